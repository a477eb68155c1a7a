import type {
  BegunFrom,
  Contents,
  Feed,
  Found,
  NewThings,
  PageDraft,
  PageText,
  PlacementView,
  Reference,
  Versions,
} from '@sammlung/contract';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { eq } from 'drizzle-orm';
import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { classes } from '../src/db/schema/index.ts';
import { cleanPage } from '../src/domain/pages/clean.ts';
import { startServer, type Who } from './harness.ts';
import { addPicture, PNG, shownPage } from './pages.ts';
import { unzipped } from './unzip.ts';

const server = await startServer();
const { ask, call, refused } = server;
afterAll(() => server.stop());

const sha = (text: string) => createHash('sha256').update(text).digest('hex');
const make = (folderId: string, title = 'Autumn log') =>
  ask<{ id: string; title: string }>('owner', 'POST', '/api/pages', { folderId, title });
/** As one continues one's own draft, whatever it is. */
const after = async (id: string, who: Who) =>
  (await ask<PageDraft>(who, 'GET', `/api/placements/${id}/draft`)).draft?.savedAt ?? null;
const show = async (id: string, html: string, base: number, who: Who = 'owner') =>
  ask<{ version: number }>(who, 'POST', `/api/placements/${id}/shown`, {
    ...{ html, base, after: await after(id, who) },
  });
const save = async (id: string, html: string, base: number, who: Who = 'owner') => {
  server.clock.now += 1;
  return ask<{ version: number; savedAt: string }>(who, 'PUT', `/api/placements/${id}/draft`, {
    ...{ html, base, after: await after(id, who) },
  });
};
const text = (id: string, who: Who = 'student in') =>
  ask<PageText>(who, 'GET', `/api/placements/${id}/page`);
const draft = (id: string, who: Who = 'owner') =>
  ask<PageDraft>(who, 'GET', `/api/placements/${id}/draft`);

describe('a page', () => {
  it('is nobody’s but its writer’s until it is shown, and then its readers’', async () => {
    const scene = await server.scene();
    const { id, title } = await make(scene.handed);
    expect(title).toBe('Autumn log');
    expect((await make(scene.handed)).title).toBe('Autumn log 2');
    await save(id, '<p>We read the strips in daylight.</p>', 0);
    const path = `/api/placements/${id}`;
    for (const route of [path, `${path}/page`, `${path}/content`])
      expect((await call('student in', 'GET', route)).status, route).toBe(404);
    const names = async () =>
      (await ask<Contents>('student in', 'GET', `/api/folders/${scene.handed}/contents`)).items.map(
        (item) => item.title,
      );
    expect(await names()).toEqual([]);
    expect(await draft(id)).toMatchObject({
      shown: { html: '', version: 0 },
      draft: { html: '<p>We read the strips in daylight.</p>', base: 0 },
    });

    expect(await show(id, '<p>We read the strips in daylight.</p>', 0)).toEqual({ version: 1 });
    expect(await names()).toContain('Autumn log');
    expect(await text(id)).toEqual({
      ...{ html: '<p>We read the strips in daylight.</p>', version: 1, things: [] },
    });
    expect((await draft(id)).draft).toBeNull();
    const { things } = await ask<NewThings>('student in', 'GET', '/api/new');
    expect(things[0]).toMatchObject({
      ...{ kind: 'page', title: 'Autumn log', opened: false },
      opening: 'We read the strips in daylight.',
    });
  });

  it('goes out when its teacher says, where that has been said before it is shown', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    const from = new Date(server.clock.now + 86_400_000).toISOString();
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'placement', id }],
      rules: [{ classId: null, release: { held: false, from, until: null } }],
    });
    await show(id, '<p>For tomorrow</p>', 0);
    expect((await call('student in', 'GET', `/api/placements/${id}`)).status).toBe(404);
  });

  it('has drafts that only their writers get, and tells the later one', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    await show(id, '<p>One</p>', 0);
    await save(id, '<p>One and more</p>', 1);
    expect(await show(id, '<p>Two</p>', 1)).toEqual({ version: 2 });
    expect(await save(id, '<p>From the other device</p>', 1)).toMatchObject({ version: 2 });
    const late = { html: '<p>From the other device</p>', base: 1 };
    const reply = await call('owner', 'POST', `/api/placements/${id}/shown`, {
      ...{ ...late, after: await after(id, 'owner') },
    });
    await refused(reply, 409, 'changed-since');
    const found = await draft(id);
    expect(found.shown).toEqual({ html: '<p>Two</p>', version: 2 });
    expect(found.draft).toMatchObject(late);
    expect(await text(id)).toMatchObject({ html: '<p>Two</p>', version: 2 });
    await ask('owner', 'DELETE', `/api/placements/${id}/draft`);
    expect((await draft(id)).draft).toBeNull();
  });

  it('keeps what the same person wrote in two windows: neither is written over', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    const first = await save(id, '<p>In the first window</p>', 0);
    const path = `/api/placements/${id}`;
    const blind = { html: '<p>In the second</p>', base: 0, after: null };
    await refused(await call('owner', 'PUT', `${path}/draft`, blind), 409, 'changed-since');
    await refused(await call('owner', 'POST', `${path}/shown`, blind), 409, 'changed-since');
    expect((await draft(id)).draft!.html).toBe('<p>In the first window</p>');
    const seen = { ...blind, after: first.savedAt };
    expect((await call('owner', 'PUT', `${path}/draft`, seen)).status).toBe(200);
  });

  it('gives back drafts as clean as pages', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    await save(id, '<p onclick="alert(1)">x</p><script>alert(1)</script>', 0);
    expect((await draft(id)).draft!.html).toBe('<p>x</p>');
  });

  it('takes several at once: one is shown, the others are told', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    const replies = await Promise.all(
      Array.from({ length: 8 }, (_, n) =>
        call('owner', 'POST', `/api/placements/${id}/shown`, {
          html: `<p>${n}</p>`,
          base: 0,
          after: null,
        }),
      ),
    );
    expect(replies.map(({ status }) => status).sort()).toEqual([200, ...Array(7).fill(409)]);
    expect((await text(id)).version).toBe(1);
  });

  it('shown without a change is no new version', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    await show(id, '<p>One</p>', 0);
    expect(await show(id, '<p>One</p>', 1)).toEqual({ version: 1 });
  });

  it('keeps its versions, and each can be brought back with its pictures', async () => {
    const scene = await server.scene();
    const { id, picture, html } = await shownPage(server, scene.handed);
    await show(id, '<p>Without the picture</p>', 1);
    const at = `/api/placements/${id}/pictures/${picture}`;
    expect((await call('student in', 'GET', at)).status).toBe(404);
    expect((await call('owner', 'GET', at)).status).toBe(200);
    const { versions } = await ask<Versions>('owner', 'GET', `/api/placements/${id}/versions`);
    expect(versions.map(({ number, createdBy }) => [number, createdBy])).toEqual([
      [2, 'owner'],
      [1, 'owner'],
    ]);
    const first = versions[1]!.id;
    const earlier = `/api/placements/${id}/page?version=${first}`;
    expect(await ask<PageText>('owner', 'GET', earlier)).toMatchObject({
      html: html.replace('A jar">', 'A jar" />'),
      version: 1,
    });
    expect(await ask<PageText>('student in', 'GET', earlier).catch(String)).toContain('403');
    await ask('owner', 'POST', `/api/placements/${id}/versions`, { versionId: first });
    expect((await text(id)).version).toBe(3);
    expect((await call('student in', 'GET', at)).status).toBe(200);
  });

  it('is found by what it says', async () => {
    const scene = await server.scene();
    await shownPage(server, scene.handed);
    const { hits } = await ask<Found>('student in', 'GET', '/api/find?words=zwetschgen');
    expect(hits[0]).toMatchObject({
      itemKind: 'page',
      excerpt: expect.stringContaining('Bring the «zwetschgen»'),
    });
  });

  it('goes along as one document with its pictures in it', async () => {
    const scene = await server.scene();
    const { id } = await shownPage(server, scene.handed);
    const reply = await call('student in', 'GET', `/api/placements/${id}/content`);
    expect(reply.headers.get('content-disposition')).toBe('attachment; filename="Page.html"');
    expect(reply.headers.get('content-security-policy')).toContain('sandbox');
    const document = await reply.text();
    expect(document).toContain('<h1>Page</h1>');
    expect(document).toContain(`src="data:image/png;base64,${PNG.toString('base64')}"`);
  });

  it('goes along as Markdown, and in an archive with a folder of pictures', async () => {
    const scene = await server.scene();
    const { id, picture } = await shownPage(server, scene.handed);
    const reference = `<p data-placement="${scene.placement}"></p><p data-folder="${scene.secret}"></p>`;
    const html = `<h2>Jars</h2><p>Bring <strong>one</strong>, <code class="formula">x^2</code>.</p><img src="pictures/${picture}" alt="A jar"><ul><li data-checked="true"><p>Lid</p></li></ul>${reference}`;
    await show(id, html, 1);
    const reply = await call('student in', 'GET', `/api/placements/${id}/content?form=markdown`);
    expect(reply.headers.get('content-disposition')).toBe('attachment; filename="Page.md"');
    expect(reply.headers.get('content-security-policy')).toContain('sandbox');
    expect(await reply.text()).toBe(
      [
        '# Page',
        '## Jars',
        'Bring **one**, $x^2$.',
        `![A jar][${picture}]`,
        '- [x] Lid',
        'Böden 土壌',
        `[${picture}]: data:image/png;base64,${PNG.toString('base64')}\n`,
      ].join('\n\n'),
    );
    const bytes = await call('student in', 'GET', `/api/folders/${scene.handed}/archive`);
    const files = await unzipped(Buffer.from(await bytes.arrayBuffer()));
    expect([...files.keys()].filter((name) => name.includes('Page'))).toEqual([
      'Handed out/Page.html',
      'Handed out/Page pictures/1.png',
    ]);
    expect(files.get('Handed out/Page pictures/1.png')).toEqual(PNG);
    const page = files.get('Handed out/Page.html')!.toString();
    expect(page).toContain('<img src="Page%20pictures/1.png"');
    expect(page).toContain('<p>Böden 土壌</p>');
    expect(page).not.toContain('Secret');
  });

  it('is in feeds with what it says', async () => {
    const scene = await server.scene();
    await shownPage(server, scene.handed);
    const feeds = [
      (await ask<Feed>('student in', 'POST', '/api/feeds', { classId: server.world.classA }))
        .address,
      `${server.base}/api/open/${scene.token}/atom.xml`,
    ];
    for (const address of feeds) {
      const feed = await (await fetch(address)).text();
      expect(feed).toContain('<p>Bring the zwetschgen jar.</p>');
      expect(feed).not.toContain('<img');
    }
  });

  it('is copied to a desk with its pictures', async () => {
    const scene = await server.scene();
    const { id, picture } = await shownPage(server, scene.handed);
    const copied = await ask<{ things: { id: string }[] }>('student in', 'POST', '/api/copies', {
      things: [{ kind: 'placement', id }],
    });
    const copy = copied.things[0]!.id;
    expect((await text(copy)).html).toContain('zwetschgen');
    await ask('owner', 'POST', '/api/bin', { things: [{ kind: 'placement', id }] });
    await ask('owner', 'POST', '/api/bin/empty', { things: [{ kind: 'placement', id }] });
    const at = `/api/placements/${copy}/pictures/${picture}`;
    const reply = await call('student in', 'GET', at);
    expect(Buffer.from(await reply.arrayBuffer())).toEqual(PNG);
    // On one's own desk nothing is held back.
    await show(copy, '<p>My own</p>', 1, 'student in');
    expect((await text(copy)).version).toBe(2);
  });

  it('is not taken for a file of its name', async () => {
    const scene = await server.scene();
    const { id } = await shownPage(server, scene.handed);
    const item = await ask<PlacementView>('owner', 'GET', `/api/placements/${id}`);
    expect(item).toMatchObject({ kind: 'page', extension: '', version: 1 });
    const file = `/api/placements/${scene.placement}`;
    for (const route of ['page', 'draft'])
      expect((await call('owner', 'GET', `${file}/${route}`)).status).toBe(404);
  });
});

describe('the room of a student', () => {
  it('holds their drafts, too: what makes one shorter is never refused', async () => {
    const { folderId } = await ask<{ folderId: string }>('student in', 'POST', '/api/desk');
    const at = async (title: string) => {
      const body = { folderId, title };
      return (await ask<{ id: string }>('student in', 'POST', '/api/pages', body)).id;
    };
    const [first, second] = [await at('One'), await at('Two')];
    const put = async (id: string, length: number) => {
      server.clock.now += 1;
      const given = { html: 'x'.repeat(length), base: 0, after: await after(id, 'student in') };
      return call('student in', 'PUT', `/api/placements/${id}/draft`, given);
    };
    expect((await put(first, 900_000)).status).toBe(200);
    await refused(await put(second, 200_000), 413, 'quota-full');
    expect((await put(first, 800_000)).status).toBe(200);
    const shown = { html: '<p>x</p>'.repeat(40_000), base: 0, after: null };
    await refused(
      await call('student in', 'POST', `/api/placements/${second}/shown`, shown),
      413,
      'quota-full',
    );
    for (const id of [first, second])
      await ask('student in', 'DELETE', `/api/placements/${id}/draft`);
    expect((await put(second, 200_000)).status).toBe(200);
  });
});

describe('a picture', () => {
  it('is one that browsers show, and no larger than may be', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    const send = (body: Buffer) =>
      call('owner', 'POST', `/api/placements/${id}/pictures`, body, {
        'content-type': 'application/octet-stream',
      });
    const svg = '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>';
    await refused(await send(Buffer.from(svg)), 422, 'no-picture');
    await refused(await send(Buffer.from('')), 422, 'no-picture');
    expect((await send(Buffer.alloc(20_000_001))).status).toBe(413);
  });

  it('of a draft is not its readers’, though they know it', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    await show(id, '<p>Without</p>', 0);
    const hash = await addPicture(server, id);
    const at = `/api/placements/${id}/pictures/${hash}`;
    expect((await call('student in', 'GET', at)).status).toBe(404);
    const reply = await call('owner', 'GET', at);
    expect(reply.headers.get('content-type')).toBe('image/png');
    expect(reply.headers.get('x-content-type-options')).toBe('nosniff');
  });

  it('that is another page’s does not come along by its name', async () => {
    const scene = await server.scene();
    const { picture } = await shownPage(server, scene.handed);
    const { id } = await make(scene.handed, 'Other');
    await show(id, `<p>x</p><img src="pictures/${picture}">`, 0);
    const at = `/api/placements/${id}/pictures/${picture}`;
    expect((await call('student in', 'GET', at)).status).toBe(404);
    expect((await call('owner', 'GET', at)).status).toBe(404);
  });
});

describe('what is sent as a page', () => {
  const HASH = 'ab'.repeat(32);
  it.each([
    ['<script>alert(1)</script><p>x</p>', '<p>x</p>'],
    ['<p onclick="alert(1)" style="color:red" class="a" id="b">x</p>', '<p>x</p>'],
    ['<a href="javascript:alert(1)">x</a>', '<a>x</a>'],
    ['<a href="JaVa\tScRiPt:alert(1)">x</a>', '<a>x</a>'],
    ['<a href="data:text/html,<script>">x</a>', '<a>x</a>'],
    ['<a href="//elsewhere.example">x</a>', '<a>x</a>'],
    [
      '<a href="https://a.example/?b=1" target="_top">x</a>',
      '<a href="https://a.example/?b=1">x</a>',
    ],
    ['<img src="https://elsewhere.example/a.png">', ''],
    ['<img src=x onerror=alert(1)>', ''],
    [
      `<img src="pictures/${HASH}" onload="alert(1)" width="9e9">`,
      `<img src="pictures/${HASH}" alt="" width="10000" />`,
    ],
    ['<svg><a xlink:href="javascript:alert(1)"><text>x</text></a></svg><p>y</p>', '<p>y</p>'],
    ['<math><mtext></form><form><mglyph><style></math><img src onerror=alert(1)>', ''],
    [
      '<iframe src="https://a.example"></iframe><object data="x"></object><embed src="x"><p>y</p>',
      '<p>y</p>',
    ],
    ['<form action="/api/session"><button>x</button><input value="y"></form>', 'x'],
    ['<h1>A</h1><h6>B</h6>', '<h2>A</h2><h4>B</h4>'],
    [
      '<h2 data-day="2026-11-29">A</h2><h2 data-day="x">B</h2>',
      '<h2 data-day="2026-11-29">A</h2><h2>B</h2>',
    ],
    ['<b>a</b><i>b</i><strike>c</strike>', '<strong>a</strong><em>b</em><s>c</s>'],
    ['<span style="x">a</span><div>b</div>', 'ab'],
    ['<pre class="formula x">a&lt;<img src=x>b</pre>', '<pre class="formula">a&lt;b</pre>'],
    [
      '<pre><code class="language-python evil">x</code></pre>',
      '<pre><code class="language-python">x</code></pre>',
    ],
    [
      '<ul><li data-checked="true">x</li><li data-checked="<b>">y</li></ul>',
      '<ul><li data-checked="true">x</li><li data-checked="false">y</li></ul>',
    ],
    ['<td colspan="1000000">x</td>', '<td colspan="50">x</td>'],
    ['<o:p>a</o:p><!--[if mso]><p>b</p><![endif]--><p class=MsoNormal>c</p>', 'a<p>c</p>'],
    [
      '<base href="https://a.example"><meta http-equiv="refresh" content="0"><link rel=stylesheet href=x>',
      '',
    ],
    ['<p dir="rtl">שלום</p>', '<p dir="rtl">שלום</p>'],
    ['<noscript><p title="</noscript><img src=x onerror=alert(1)>">', ''],
  ])('%s', (given, clean) => expect(cleanPage(given).html).toBe(clean));

  it('is the same when it is cleaned again, and holds nothing that runs', () => {
    const pieces = fc.constantFrom(
      ...[
        '<script>',
        '</script>',
        '<p>',
        '</p>',
        '<img src=x onerror=alert(1)>',
        '<svg/onload=alert(1)>',
      ],
      ...[
        '<a href="javascript:1">',
        '</a>',
        '<style>',
        '</style>',
        '<!--',
        '-->',
        '<![CDATA[',
        ']]>',
        '&lt;script&gt;',
      ],
      ...[
        '<table><td>',
        '<li data-checked=true>',
        '<code class=formula>',
        '</code>',
        '<math>',
        '<noscript>',
        '"',
        "'",
        '<',
        '>',
        '&',
      ],
      ...[
        '<textarea>',
        '<title>',
        '<template>',
        "<div data-formula='\"><script>'>",
        'text',
        '\u202e',
        '<pre><code class=language-x>',
      ],
    );
    fc.assert(
      fc.property(fc.array(pieces, { maxLength: 30 }), (parts) => {
        const { html } = cleanPage(parts.join(''));
        expect(cleanPage(html).html).toBe(html);
        expect(html.replace(/"[^"]*"/gu, '')).not.toMatch(
          /<(script|style|svg|math|iframe|textarea|template)|\son\w+=|javascript:/iu,
        );
      }),
    );
  });

  it('may be nested, long and wide, and is read all the same', async () => {
    const nested = cleanPage(`${'<ul><li>'.repeat(5000)}deep${'</li></ul>'.repeat(5000)}`);
    expect(nested.text).toContain('deep');
    expect(nested.html.length).toBeLessThan(2000);
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    const long = `<p>${'Lorem ipsum dolor. '.repeat(100)}</p>`.repeat(1000);
    expect(await show(id, long, 0)).toEqual({ version: 1 });
    expect((await text(id)).html).toBe(long.replaceAll(' </p>', ' </p>'));
    const tooLong = { html: 'x'.repeat(2_000_001), base: 1, after: null };
    const reply = await call('owner', 'PUT', `/api/placements/${id}/draft`, tooLong);
    await refused(reply, 400, 'bad-request');
    const broken = { html: '<p>\ud800</p>', base: 1, after: null };
    const half = await call('owner', 'PUT', `/api/placements/${id}/draft`, broken);
    await refused(half, 400, 'bad-request');
  });
});

describe('a page that is shown while it is written', () => {
  const write = async (id: string, html: string, base: number, who: Who = 'owner') => {
    const body = { html, base, after: await after(id, who), whileWriting: true };
    return ask<{ version: number }>(who, 'POST', `/api/placements/${id}/shown`, body);
  };
  const versions = async (id: string) =>
    (await ask<Versions>('owner', 'GET', `/api/placements/${id}/versions`)).versions;

  it('has one version for what is written without a pause, with its pictures', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    await ask('owner', 'PUT', `/api/placements/${id}/showing`, { whileWriting: true });
    expect((await draft(id)).whileWriting).toBe(true);
    const picture = await addPicture(server, id);
    expect(await write(id, '<p>Written first</p>', 0)).toEqual({ version: 1 });
    const [first] = await versions(id);
    server.clock.now += 60_000;
    expect(await write(id, `<p>One two</p><img src="pictures/${picture}">`, 1)).toEqual({
      version: 1,
    });
    expect((await text(id)).html).toContain('One two');
    expect(
      (await call('student in', 'GET', `/api/placements/${id}/pictures/${picture}`)).status,
    ).toBe(200);
    expect(await versions(id)).toMatchObject([{ id: first!.id, number: 1 }]);
    // What stood there a moment ago is not kept.
    expect(existsSync(server.fileOf(sha('<p>Written first</p>')))).toBe(false);
    server.clock.now += 60_000;
    await write(id, '<p>One two three</p>', 1);
    expect(
      (await call('student in', 'GET', `/api/placements/${id}/pictures/${picture}`)).status,
    ).toBe(404);
  });

  it('begins another one after a pause, for somebody else, and beside what is shown by hand', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    await write(id, '<p>One</p>', 0);
    server.clock.now += 11 * 60_000;
    expect(await write(id, '<p>Two</p>', 1)).toEqual({ version: 2 });
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: scene.handed }],
      audiences: [{ kind: 'person', id: server.world.ids.colleague }],
      level: 'manage',
    });
    expect(await write(id, '<p>Three</p>', 2, 'colleague')).toEqual({ version: 3 });
    expect(await show(id, '<p>Four</p>', 3)).toEqual({ version: 4 });
    expect(await write(id, '<p>Five</p>', 4)).toEqual({ version: 5 });
    expect((await versions(id)).map(({ number }) => number)).toEqual([5, 4, 3, 2, 1]);
    const late = await call('owner', 'POST', `/api/placements/${id}/shown`, {
      ...{ html: '<p>Late</p>', base: 4, after: null, whileWriting: true },
    });
    await refused(late, 409, 'changed-since');
  });

  it('has the language of the classes that get it', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    expect((await draft(id)).language).toBeNull();
    await server.db
      .update(classes)
      .set({ language: 'de' })
      .where(eq(classes.id, server.world.classA));
    expect((await draft(id)).language).toBe('de');
    await server.db
      .update(classes)
      .set({ language: null })
      .where(eq(classes.id, server.world.classA));
  });
});

describe('what a page refers to', () => {
  const card = (thing: { kind: string; id: string }) => `<p data-${thing.kind}="${thing.id}"></p>`;
  const references = async (
    id: string,
    things: { kind: string; id: string }[],
    who: Who = 'owner',
  ) =>
    (
      await ask<{ references: Reference[] }>(who, 'POST', `/api/placements/${id}/references`, {
        things,
      })
    ).references;

  it('is named to whoever sees it, and to others there is nothing of it', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    const seen = { kind: 'placement', id: scene.placement };
    const unseen = { kind: 'folder', id: scene.secret };
    const nowhere = { kind: 'folder', id: '00000000-0000-4000-8000-000000000000' };
    const html = `<p>Read</p>${[seen, unseen, nowhere].map(card).join('')}<p>first.</p>`;
    await show(id, html, 0);
    expect(await text(id)).toEqual({
      html: `<p>Read</p>${card(seen)}<p>first.</p>`,
      version: 1,
      things: [
        {
          ...{ ...seen, title: 'Böden 土壌', itemKind: 'file', extension: 'txt' },
          ...{ mark: null, colour: null, url: null },
        },
      ],
    });
    expect((await text(id, 'owner')).things.map((thing) => thing.id).sort()).toEqual(
      [scene.placement, scene.secret].sort(),
    );
    const throughDoor = await ask<PageText>(
      'visitor with door',
      'GET',
      `/api/open/${scene.token}/placements/${id}/page`,
    );
    expect(throughDoor.html).toBe(`<p>Read</p>${card(seen)}<p>first.</p>`);
    await ask('owner', 'POST', '/api/bin', { things: [seen] });
    expect(await text(id)).toMatchObject({ html: '<p>Read</p><p>first.</p>', things: [] });
  });

  it('is said while writing: who of its readers does not see it, and whether it can be handed out', async () => {
    const scene = await server.scene();
    const { id } = await make(scene.handed);
    const things = [
      { kind: 'folder', id: scene.secret },
      { kind: 'placement', id: scene.placement },
    ];
    const [unseen, seen] = (await references(id, things)).sort((a) =>
      a.kind === 'folder' ? -1 : 1,
    );
    expect(seen).toMatchObject({ unseenBy: [], mayHandOut: true });
    expect(unseen!.mayHandOut).toBe(true);
    expect(unseen!.unseenBy).toContainEqual(
      expect.objectContaining({ kind: 'class', id: server.world.classA, handedOut: false }),
    );
    expect(unseen!.unseenBy).toContainEqual(
      expect.objectContaining({ kind: 'public', people: null }),
    );
    await ask('owner', 'POST', '/api/grants', {
      things: [things[0]],
      audiences: [{ kind: 'class', id: server.world.classA }],
    });
    const [after] = await references(id, things.slice(0, 1));
    expect(after!.unseenBy.map(({ kind }) => kind)).not.toContain('class');
  });

  it('is cut off where it is too much, and never what it is not', () => {
    const many = Array.from({ length: 250 }, (_, n) =>
      card({ kind: 'folder', id: `00000000-0000-4000-8000-${String(n).padStart(12, '0')}` }),
    ).join('');
    expect(cleanPage(many).html.match(/<p data-folder/gu)).toHaveLength(200);
    expect(cleanPage('<p data-folder="../x" data-placement="1">A</p>').html).toBe('<p>A</p>');
    expect(cleanPage('<p data-folder="javascript:alert(1)" dir="rtl">A</p>').html).toBe(
      '<p dir="rtl">A</p>',
    );
  });
});

describe('a page that begins from another', () => {
  it('has its text and pictures, and learns what may be out of date', async () => {
    const scene = await server.scene();
    const source = await shownPage(server, scene.handed);
    const { id } = await make(scene.handed, 'This year');
    const begun = await ask<BegunFrom>('owner', 'POST', `/api/placements/${id}/begin`, {
      from: source.id,
    });
    expect(begun.html).toContain(`pictures/${source.picture}`);
    const code = (
      await server.db.select().from(classes).where(eq(classes.id, server.world.classA))
    )[0]!.code;
    expect(begun.to).toEqual({ firstDay: '2026-08-31', lastDay: '2027-07-09', classes: [code] });
    expect(begun.from).toEqual(begun.to);
    await show(id, begun.html, 0);
    const picture = `/api/placements/${id}/pictures/${source.picture}`;
    expect((await call('student in', 'GET', picture)).status).toBe(200);
    // It is a page of its own.
    await ask('owner', 'POST', '/api/bin', { things: [{ kind: 'placement', id: source.id }] });
    expect((await call('student in', 'GET', picture)).status).toBe(200);
  });

  it('takes nothing that its writer does not see', async () => {
    const scene = await server.scene();
    const source = await shownPage(server, scene.handed);
    const { id } = await ask<{ id: string }>('colleague', 'POST', '/api/pages', {
      folderId: (
        await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
          parentId: null,
          title: 'Own',
        })
      ).id,
      title: 'Mine',
    });
    const reply = await call('colleague', 'POST', `/api/placements/${id}/begin`, {
      from: source.id,
    });
    await refused(reply, 404, 'not-found');
  });
});
