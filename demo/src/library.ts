import { makeSheet, makeSlides, makeText } from './files/office.ts';
import { makePdf, type Block } from './files/pdf.ts';
import { makePicture, makeTelephonePicture } from './files/picture.ts';
import { makeBeanFilm, makeBirdsong } from './files/recording.ts';
import { STAFF, type SamplePerson } from './people.ts';

/** Days from today, at a time of day in minutes after midnight (UTC). */
export interface Moment {
  readonly day: number;
  readonly minute?: number;
}

export interface SampleFile {
  readonly kind: 'file';
  readonly name: string;
  readonly mediaType: string;
  readonly added: Moment;
  /** Makers of the versions, oldest first. */
  readonly versions: readonly { readonly make: () => Promise<Uint8Array>; readonly at: Moment }[];
  readonly lesson?: number;
  readonly held?: boolean;
  readonly from?: Moment;
}
export interface SampleLink {
  readonly kind: 'link';
  readonly title: string;
  readonly url: string;
  readonly added: Moment;
}
/** The same item that lies elsewhere, by its file name. */
export interface SampleAgain {
  readonly kind: 'again';
  readonly name: string;
  readonly added: Moment;
}
/** A page; in its text a picture is named by its key, `pictures/pit`. */
export interface SamplePage {
  readonly kind: 'page';
  readonly title: string;
  readonly added: Moment;
  readonly pictures: Readonly<Record<string, () => Promise<Uint8Array>>>;
  /** What each version says, oldest first; `heading` begins what belongs to a day from today, on the Friday before a weekend. */
  readonly versions: readonly {
    readonly html: (heading: (day: number) => string) => string;
    readonly at: Moment;
  }[];
}
export type SampleEntry = SampleFile | SampleLink | SampleAgain | SamplePage;

export interface SampleFolder {
  readonly title: string;
  readonly owner?: SamplePerson;
  readonly mark?: string;
  readonly colour?: 'leaf' | 'plum' | 'lake' | 'bark' | 'rose' | 'slate' | 'moss' | 'clay';
  readonly order?: 'hand' | 'a_to_z' | 'lesson_date' | 'newest';
  readonly display?: 'list' | 'tiles' | 'reader';
  readonly year?: 'closed' | 'running';
  /** Class codes it is handed out to. */
  readonly classes?: readonly string[];
  /** What colleagues may do in it, where it stands in the staff room. */
  readonly staff?: 'view' | 'add' | 'manage';
  /** Opens a public door to it; what visitors read there first. */
  readonly publicDoor?: string;
  readonly held?: boolean;
  readonly from?: Moment;
  readonly handedOut?: Moment;
  readonly entries?: readonly SampleEntry[];
  readonly folders?: readonly SampleFolder[];
}

const PDF = 'application/pdf';
const JPG = 'image/jpeg';
const DOCX = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
const PPTX = 'application/vnd.openxmlformats-officedocument.presentationml.presentation';
const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';

const utf8 = (text: string) => async () => new TextEncoder().encode(text);

const COURSES = {
  soil: { course: 'Soil Science I', code: 'SO1', colour: '#2f6f4f' },
  plants: { course: 'Plant Propagation II', code: 'PR2A', colour: '#7a4a86' },
  orchard: { course: 'Orchard Care', code: 'OR3', colour: '#a23a5e' },
};

function file(
  name: string,
  mediaType: string,
  day: number,
  make: () => Promise<Uint8Array>,
  more: Partial<SampleFile> = {},
): SampleFile {
  const added = { day, minute: 7 * 60 + ((name.length * 13) % 480) };
  return { kind: 'file', name, mediaType, added, versions: [{ make, at: added }], ...more };
}

function pdf(
  title: string,
  course: keyof typeof COURSES,
  day: number,
  blocks: readonly Block[],
  more: Partial<SampleFile> = {},
): SampleFile {
  return file(`${title}.pdf`, PDF, day, () => makePdf({ title, ...COURSES[course], blocks }), {
    lesson: day,
    ...more,
  });
}

const phBlocks = (edition: string): Block[] => [
  {
    text: `Today you measure how acid or alkaline a soil is, and decide what will grow in it. ${edition}`,
  },
  { drawing: 'phScale', caption: 'Figure 1. The pH scale, and the range that some plants like.' },
  { heading: 'What you need' },
  {
    list: [
      'A spoonful of soil from 10 cm depth, without stones and roots',
      'Distilled water, a clean beaker, a stirring rod',
      'Indicator strips with their colour card',
      'Your soil log',
    ],
  },
  { heading: 'How to do it' },
  {
    list: [
      'Put one part of soil and two parts of water into the beaker.',
      'Stir for one minute, then let it stand for five.',
      'Dip the strip into the clear water on top, not into the mud.',
      'Compare at once, in daylight, and note the nearest half step.',
      'Do it three times and take the middle value.',
    ],
  },
  { newPage: true },
  { heading: 'Reading the result' },
  {
    table: [
      ['pH', 'We say', 'What it means for the bed'],
      ['below 5.5', 'acid', 'Lime in autumn, or grow what likes it'],
      ['5.5 to 6.5', 'slightly acid', 'Good for fruit and most shrubs'],
      ['6.5 to 7.2', 'neutral', 'Good for most vegetables'],
      ['above 7.2', 'alkaline', 'Compost and leaf mould every year'],
    ],
    widths: [1, 1.2, 3],
  },
  { heading: 'Your notes' },
  { lines: 9 },
  { newPage: true },
  { heading: 'Questions for Thursday' },
  {
    list: [
      'Why do we use distilled water and not tap water?',
      'Two strips give 6.0 and 7.5 for the same bed. What may have happened?',
      'Name two plants for a soil of pH 5.0.',
    ],
  },
  { lines: 12 },
];

const RAIN = `Week;Rain (mm);Soil at 10 cm (°C);Remarks
36;12;16.4;
37;4;16.1;dry, beds watered
38;31;14.8;
39;22;13.9;
40;8;13.2;first frost on grass
41;19;11.5;
42;27;10.8;
43;36;9.6;path under water
44;11;8.9;
45;15;8.1;
46;24;7.2;
47;9;6.4;
`;

const MARKING = `# Marking scheme

One sheet for every quiz of this course.

| Part | Points | What counts |
|---|---|---|
| Words | 6 | the word *and* its meaning |
| Drawing | 8 | labels, scale, tidy lines |
| Reasons | 10 | says **why**, not only what |

1. Mark all of question one, then all of question two.
2. Half points only for drawings.
3. Whoever gives a reason that is wrong but thought through gets half.

> What nobody got right was taught badly: teach it again.
`;

const pitLog = (heading: (day: number) => string, last: string) => `${last}${heading(-74)}
<p>We read the wall from the top. Two measured, two drew, one wrote; then everybody moved on by one place.</p>
<img src="pictures/pit" alt="The pit at the orchard edge, with the dark topsoil above pale clay" width="960" height="720" />
<table><tbody><tr><th><p>Horizon</p></th><th><p>Depth</p></th><th><p>What we saw</p></th></tr>
<tr><td><p>A</p></td><td><p>0 to 24 cm</p></td><td><p>dark, many roots, smells of <em>forest</em></p></td></tr>
<tr><td><p>E</p></td><td><p>24 to 38 cm</p></td><td><p>pale and washed out</p></td></tr>
<tr><td><p>B</p></td><td><p>38 to 90 cm</p></td><td><p>rust in streaks, clay that shines when it is cut</p></td></tr></tbody></table>
<aside><p>Nobody stands at the edge while somebody is in the pit.</p></aside>
${heading(-77)}
<p>First look, in the rain. Water stood on the clay for an hour: that alone tells where the B horizon begins.</p>
<ul><li data-checked="true"><p>Spades cleaned</p></li><li data-checked="true"><p>Tape measure back in the shed</p></li><li data-checked="false"><p>Fence mended</p></li></ul>
<details><summary>How to work out the share of pores</summary><p>Dry and weigh a ring of soil; what is missing is water and air.</p>
<pre class="formula">n = 1 - \\frac{\\rho_b}{\\rho_s}</pre></details>`;

/** A page with one state of it. */
const page = (
  title: string,
  day: number,
  html: (heading: (day: number) => string) => string,
): SamplePage => ({
  ...{ kind: 'page', title, pictures: {} },
  added: { day, minute: 900 },
  versions: [{ html, at: { day, minute: 930 } }],
});

const autumnLog = (heading: (day: number) => string) => `${heading(-2)}
<p>We read the strips in daylight, not under the lamp. Two groups had tap water in their cups: the reading drifts upwards within a minute.</p>
<aside><p>Distilled water only. The blue can by the door is tap water.</p></aside>
${heading(-5)}
<ul><li><p>Clay holds the lime longer: bed 3 is still at 6.8 after two weeks.</p></li><li><p>For next time: one jar each, lid on.</p></li></ul>
${heading(-9)}
<p>Weather table filled in together; the second column is in millimetres.</p>
${heading(-12)}
<p>Three samples from each bed, mixed in one bucket, then a handful of the mix. <strong>Never</strong> a single spade from the edge.</p>
<table><tbody><tr><th><p>Bed</p></th><th><p>By feel</p></th><th><p>pH</p></th></tr><tr><td><p>1</p></td><td><p>sandy loam</p></td><td><p>6.2</p></td></tr><tr><td><p>2</p></td><td><p>loam</p></td><td><p>6.5</p></td></tr><tr><td><p>3</p></td><td><p>clay loam</p></td><td><p>6.9</p></td></tr></tbody></table>`;

/** What is read from the first page to the last. */
const courseReader: SampleFolder = {
  title: 'Course reader',
  mark: '📖',
  display: 'reader',
  folders: [
    {
      title: 'Demonstrations',
      entries: [
        page('Autumn log', -2, autumnLog),
        page(
          'Measuring acidity at home',
          -26,
          () => `<p>Red cabbage water turns from violet to pink in what is sour, and to green in what is not. It needs no shop.</p>
<ol><li><p>Cut a quarter of a cabbage, pour boiling water on it, wait for half an hour.</p></li><li><p>Shake a spoon of soil in a glass of distilled water, and let it settle.</p></li><li><p>Pour a little of the violet water in. Compare with the card below.</p></li></ol>
<table><tbody><tr><th><p>Colour</p></th><th><p>pH about</p></th></tr><tr><td><p>pink</p></td><td><p>4</p></td></tr><tr><td><p>violet</p></td><td><p>6 to 7</p></td></tr><tr><td><p>blue-green</p></td><td><p>8</p></td></tr></tbody></table>
<details><summary>Why it works</summary><p>The dye gives up a part of itself where there is little acid: <code class="formula">\\mathrm{pH} = -\\log_{10} [\\mathrm{H}^+]</code>.</p></details>`,
        ),
        page(
          'Three kinds of water',
          -48,
          () =>
            '<p>Water that <em>sinks</em> through the large pores in a day, water that <em>hangs</em> in the middle ones and that roots can drink, and water that <em>clings</em> so tightly that no root gets it.</p><blockquote><p>A sponge that has stopped dripping is at field capacity.</p></blockquote>',
        ),
        pdf('Sieve results', 'soil', -65, [
          { text: 'What stayed in which sieve, three beds, in grams of 500.' },
          {
            table: [
              ['Sieve', 'Bed 1', 'Bed 2', 'Bed 3'],
              ['2 mm', '41', '22', '9'],
              ['0.2 mm', '263', '171', '88'],
              ['0.06 mm', '121', '190', '164'],
              ['pan', '75', '117', '239'],
            ],
            widths: [1, 1, 1, 1],
          },
        ]),
      ],
    },
    {
      title: 'About this course',
      entries: [
        page(
          'What we do, and when',
          -84,
          () =>
            '<p>Thursdays we are outside, whatever the weather. Mondays we weigh, dry, sieve and write up what we brought in.</p><ul><li><p>Weeks 1 to 5: the profile</p></li><li><p>Weeks 6 to 14: texture and pH</p></li><li><p>Weeks 15 to 20: compost</p></li><li><p>Weeks 21 to 30: water and air</p></li></ul>',
        ),
      ],
    },
    {
      title: 'How to use the reader',
      entries: [
        page(
          'Finding a day again',
          -84,
          () =>
            '<p>The newest day is on top. The contents beside the text lead to every page; <strong>Find</strong> looks in all of them.</p>',
        ),
      ],
    },
  ],
};

const soilScience: SampleFolder = {
  title: 'Soil Science I',
  mark: '🪱',
  colour: 'leaf',
  year: 'running',
  classes: ['SO1A', 'SO1B'],
  handedOut: { day: -84 },
  entries: [
    pdf('Soil Science I, course outline', 'soil', -84, [
      { text: 'What we do this year, how it is marked, and what to bring.' },
      {
        table: [
          ['Weeks', 'Unit', 'In the field'],
          ['1 to 5', '1 Soil profile', 'Pit at the orchard edge'],
          ['6 to 14', '2 Texture and pH', 'Three beds, one sample each'],
          ['15 to 20', '3 Compost', 'Heaps behind the glasshouse'],
          ['21 to 30', '4 Water and air', 'Sinking rings'],
        ],
        widths: [1, 2, 2.4],
      },
      { heading: 'What to bring' },
      {
        list: [
          'Boots and gloves, every Thursday',
          'Your soil log, printed or on a tablet',
          'A ruler of 30 cm',
        ],
      },
    ]),
  ],
  folders: [
    {
      title: '1 Soil profile',
      order: 'lesson_date',
      entries: [
        pdf('Soil horizons, field sheet', 'soil', -76, [
          {
            text: 'A soil is read from top to bottom. Each layer, called a horizon, has its own colour, feel and life.',
          },
          {
            drawing: 'soilProfile',
            caption: 'Figure 1. The horizons of the pit at the orchard edge, 1.4 m deep.',
          },
          { heading: 'Measure and note' },
          {
            table: [
              ['Horizon', 'From (cm)', 'To (cm)', 'Colour', 'Roots'],
              ['O', '', '', '', ''],
              ['A', '', '', '', ''],
              ['E', '', '', '', ''],
              ['B', '', '', '', ''],
              ['C', '', '', '', ''],
            ],
          },
          { newPage: true },
          { heading: 'Sketch your own pit' },
          { lines: 20 },
        ]),
        {
          kind: 'page',
          title: 'What we saw in the pit',
          added: { day: -75, minute: 840 },
          pictures: { pit: () => makePicture('soilPit') },
          versions: [
            { html: (heading) => pitLog(heading, ''), at: { day: -74, minute: 900 } },
            {
              html: (heading) =>
                pitLog(
                  heading,
                  `${heading(-70)}<p>Words in all our languages are in the list beside this page. <strong>Add yours</strong> before Thursday.</p>`,
                ),
              at: { day: -70, minute: 870 },
            },
          ],
        },
        file('Soil pit at the orchard edge.jpg', JPG, -75, () => makePicture('soilPit'), {
          lesson: -75,
        }),
        file(
          'Pit wall, from my telephone.heic',
          'image/heic',
          -75,
          () => makeTelephonePicture('soilPit'),
          { lesson: -75 },
        ),
        file(
          'The five horizons, slides.pptx',
          PPTX,
          -76,
          () =>
            makeSlides('The five horizons', [
              {
                title: 'Why we dig',
                points: [
                  'A soil is read from top to bottom',
                  'Each layer has its own colour, feel and life',
                  'What grows above depends on what lies below',
                ],
              },
              {
                title: 'From top to bottom',
                points: [
                  'O: leaf litter',
                  'A: dark topsoil, many roots',
                  'E: pale, washed out',
                  'B: clay and iron gathered',
                  'C: broken parent rock',
                ],
              },
              {
                title: 'On Thursday at the pit',
                points: ['Boots, gloves, a ruler of 30 cm', 'Two draw, one measures, one writes'],
              },
            ]),
          { lesson: -76 },
        ),
        file(
          'Soil words, Böden und 土壌.docx',
          DOCX,
          -70,
          () =>
            makeText({
              title: 'Soil words',
              paragraphs: [
                'The words of unit 1 in the languages of this class. Add your own in the last column.',
              ],
              table: [
                ['English', 'Deutsch', '日本語', 'Mine'],
                ['soil', 'der Boden, die Böden', '土壌', ''],
                ['topsoil', 'der Oberboden', '表土', ''],
                ['clay', 'der Ton', '粘土', ''],
                ['sand', 'der Sand', '砂', ''],
                ['root', 'die Wurzel', '根', ''],
              ],
            }),
          { lesson: -70 },
        ),
      ],
    },
    {
      title: '2 Texture & pH',
      order: 'lesson_date',
      entries: [
        pdf('Lesson 14, reading a pH strip', 'soil', -8, phBlocks(''), {
          versions: [
            {
              make: () =>
                makePdf({
                  title: 'Lesson 14, reading a pH strip',
                  ...COURSES.soil,
                  blocks: phBlocks(''),
                }),
              at: { day: -8, minute: 460 },
            },
            {
              make: () =>
                makePdf({
                  title: 'Lesson 14, reading a pH strip',
                  ...COURSES.soil,
                  blocks: phBlocks('This sheet has the corrected table on page 2.'),
                }),
              at: { day: -1, minute: 900 },
            },
          ],
          lesson: -1,
        }),
        { kind: 'again', name: 'Texture by feel, field card.pdf', added: { day: -6, minute: 615 } },
        file(
          'Soil log, blank table.xlsx',
          XLSX,
          -8,
          () =>
            makeSheet({
              name: 'Soil log',
              columns: [
                { header: 'Date', width: 12 },
                { header: 'Bed', width: 16 },
                { header: 'Depth (cm)', width: 12 },
                { header: 'Texture', width: 16 },
                { header: 'pH', width: 8 },
                { header: 'Remarks', width: 40 },
              ],
              rows: [
                ['2026-11-17', 'North bed', 10, 'loam', 6.5, 'example row'],
                ['', '', '', '', '', ''],
              ],
            }),
          { lesson: -8 },
        ),
        file('Rain and soil temperature, autumn.csv', 'text/csv', -6, utf8(RAIN), { lesson: -6 }),
        {
          kind: 'link',
          title: 'Soil map of the county',
          url: 'https://soil-map.example/fennmoor',
          added: { day: -8, minute: 700 },
        },
        pdf('Quiz 4, blank', 'soil', -2, [
          { text: 'Name: ______________________________     Class: ________' },
          {
            list: [
              'Put sand, silt and clay in order of the size of their grains.',
              'A sample makes a ribbon of 6 cm. Which texture is it?',
              'A bed has pH 7.8. Name one thing to do and one not to do.',
            ],
          },
          {
            drawing: 'textureTriangle',
            caption: 'Figure 1. Mark the sample with 40 % sand, 40 % silt and 20 % clay.',
          },
          { lines: 6 },
        ]),
        file(
          'Notes for the field trip.docx',
          DOCX,
          -3,
          () =>
            makeText({
              title: 'Notes for the field trip',
              paragraphs: [
                'Draft. Bus at 8:15 from the north gate, back by 15:30.',
                'Bring: boots, rain clothes, packed lunch, soil log, two sample bags.',
                'To settle: who carries the auger, and the permission slips of three students.',
              ],
            }),
          { held: true, lesson: -3 },
        ),
      ],
      folders: [
        {
          title: 'Answer keys',
          from: { day: 12, minute: 8 * 60 },
          entries: [
            pdf('Quiz 4, worked answers', 'soil', -2, [
              {
                list: [
                  'Clay, silt, sand: from the smallest to the largest.',
                  'A ribbon of 6 cm: clay.',
                  'Leaf mould every year; no lime.',
                ],
              },
              {
                drawing: 'textureTriangle',
                caption: 'Figure 1. The sample is loam: look for the point in the middle.',
              },
            ]),
            pdf('Lesson 13, worked answers', 'soil', -9, [
              {
                list: [
                  'The middle value of three is safer than the mean: one bad strip does no harm.',
                  'The strip goes into clear water.',
                ],
              },
            ]),
          ],
        },
      ],
    },
    courseReader,
    {
      title: '3 Compost',
      held: true,
      entries: [
        pdf('Compost heap, layer by layer', 'soil', -5, [
          { text: 'Build it in one afternoon, turn it after four weeks, use it in spring.' },
          { drawing: 'compost', caption: 'Figure 1. From coarse to fine, from the ground up.' },
          { heading: 'The mix' },
          {
            table: [
              ['Part', 'Share', 'Examples'],
              ['green', '2', 'grass, peelings, fresh leaves'],
              ['brown', '1', 'straw, twigs, cardboard'],
              ['old compost', 'a spade', 'brings the helpers'],
            ],
            widths: [1, 1, 3],
          },
        ]),
      ],
    },
  ],
};

const propagation: SampleFolder = {
  title: 'Plant Propagation II',
  mark: '🌱',
  colour: 'plum',
  year: 'running',
  classes: ['PR2A'],
  handedOut: { day: -83 },
  folders: [
    {
      title: 'Root cuttings',
      entries: [
        pdf('Root cuttings, step by step', 'plants', -1, [
          {
            text: 'For phlox, anchusa, verbascum and other plants with thick roots. Best from November to February.',
          },
          {
            drawing: 'rootCutting',
            caption: 'Figure 1. Straight on top, slanted below: so nobody plants it upside down.',
          },
          { heading: 'Step by step' },
          {
            list: [
              'Lift a healthy plant and wash the roots.',
              'Take roots as thick as a pencil, close to the crown.',
              'Cut pieces of 5 to 8 cm: straight on top, slanted below.',
              'Set them upright, tops level with the soil, 4 cm apart.',
              'Cover with 1 cm of sharp sand, water once, keep frost free.',
            ],
          },
          { newPage: true },
          { heading: 'Log' },
          {
            table: [
              ['Plant', 'Pieces', 'Date', 'Shoots after'],
              ['Phlox paniculata', '', '', ''],
              ['Anchusa azurea', '', '', ''],
              ['Verbascum', '', '', ''],
            ],
          },
          { lines: 10 },
        ]),
        file('Root cuttings on the bench.jpg', JPG, -1, () => makePicture('cuttings'), {
          lesson: -1,
        }),
      ],
    },
    {
      title: 'Grafting',
      entries: [
        pdf('Whip and tongue, the cut', 'plants', -15, [
          {
            text: 'Scion and rootstock of the same thickness. One clean cut each, 3 cm long, then the tongue.',
          },
          { drawing: 'graft', caption: 'Figure 1. Apart and joined.' },
          { heading: 'Before you cut' },
          {
            list: [
              'Sharpen, strip, wipe: the blade must shave.',
              'Cut away from you, elbows in.',
              'Nobody walks behind somebody who cuts.',
            ],
          },
        ]),
        file('A bean in twelve days.mp4', 'video/mp4', -21, makeBeanFilm, { lesson: -21 }),
        file('Seed tray, third week.jpg', JPG, -20, () => makePicture('seedTray'), { lesson: -20 }),
      ],
    },
  ],
};

const guides: SampleFolder = {
  title: 'Field guides',
  mark: '🔎',
  colour: 'lake',
  order: 'a_to_z',
  publicDoor:
    'Short guides to what grows and crawls on our beds, made for walks with the class. Free to print and to pass on.',
  handedOut: { day: -40 },
  entries: [
    { kind: 'again', name: 'Texture by feel, field card.pdf', added: { day: -40, minute: 600 } },
    pdf('Leaf shapes, pocket card', 'plants', -40, [
      { text: 'Hold the leaf against the row and read its name.' },
      { drawing: 'leaves', caption: 'Figure 1. Five shapes that name most leaves of this region.' },
      {
        table: [
          ['Shape', 'Example'],
          ['lanceolate', 'willow'],
          ['elliptic', 'beech'],
          ['ovate', 'lilac'],
          ['round', 'alder'],
          ['linear', 'rosemary'],
        ],
      },
    ]),
  ],
};

const masters: SampleFolder = {
  title: 'Masters',
  entries: [
    pdf('Texture by feel, field card', 'soil', -40, [
      { text: 'Wet a spoonful, knead it, press a ribbon between thumb and finger.' },
      {
        drawing: 'textureTriangle',
        caption: 'Figure 1. Where the textures lie between sand, silt and clay.',
      },
      {
        table: [
          ['It feels', 'Ribbon', 'Texture'],
          ['gritty, falls apart', 'none', 'sand'],
          ['gritty, holds', 'under 2 cm', 'sandy loam'],
          ['like flour', '2 to 3 cm', 'silt loam'],
          ['even', '2 to 4 cm', 'loam'],
          ['sticky, shines', 'over 5 cm', 'clay'],
        ],
        widths: [2, 1.2, 1.2],
      },
    ]),
    file(
      'Ideas for the spring term.txt',
      'text/plain',
      -30,
      utf8(
        'Ideas for the spring term\n\n- worm count, same square every week\n- let PR2A teach SO1A the washing of roots\n- ask Tomasz for prunings before he burns them\n',
      ),
    ),
    file('Exam of the spring, locked.pdf', PDF, -25, () =>
      makePdf({
        title: 'Exam of the spring, locked',
        ...COURSES.soil,
        blocks: [{ text: 'Not to be read before the day.' }],
        password: 'fennmoor',
      }),
    ),
    file('Marking scheme, one page.md', 'text/markdown', -28, utf8(MARKING)),
  ],
};

const lastYearsLog = (heading: (day: number) => string) => `${heading(-372)}
<p>Class SO1A at the pit behind the glasshouse. Boots were forgotten twice: say so a day before.</p>
${heading(-386)}
<p>Reports are due in two weeks. <strong>No late ones this time.</strong></p>`;

/** The library of the finished year, to be carried over. */
const lastYear: SampleFolder = {
  title: 'Soil Science I, last year',
  year: 'closed',
  classes: ['SO1A'],
  handedOut: { day: -400 },
  entries: [
    pdf('Quiz 1, last year', 'soil', -420, [
      { list: ['Name the horizons from top to bottom.'] },
      { lines: 8 },
    ]),
    page('How the course went', -370, lastYearsLog),
  ],
  folders: [
    {
      title: '1 In the field',
      order: 'lesson_date',
      entries: [
        pdf('Walk to the moor', 'soil', -398, [
          { text: 'What lies on top of what, and why the path is wet on one side only.' },
          { drawing: 'soilProfile', caption: 'Figure 1. As it is drawn in the pit.' },
        ]),
        pdf('Texture, a first look', 'soil', -391, [
          { list: ['Sand between the fingers', 'Silt like flour', 'Clay that shines'] },
          { drawing: 'textureTriangle', caption: 'Figure 1. Where each of them is.' },
        ]),
      ],
      folders: [
        {
          title: 'Sheets of the SO1A pit',
          entries: [pdf('Pit sheet', 'soil', -396, [{ heading: 'Pit' }, { lines: 12 }])],
        },
      ],
    },
    {
      title: '2 In the laboratory',
      entries: [
        pdf('Reading pH strips', 'soil', -380, [
          { text: 'In daylight, after a minute, and never with tap water.' },
          { drawing: 'phScale', caption: 'Figure 1. What likes it sour, and what does not.' },
        ]),
      ],
      folders: [
        {
          title: 'Answers, kept back',
          held: true,
          entries: [
            pdf('Reading pH strips, answers', 'soil', -379, [{ list: ['6.2', '6.5', '6.9'] }]),
          ],
        },
      ],
    },
  ],
};

const orchard: SampleFolder = {
  title: 'Orchard Care',
  owner: STAFF.tomasz,
  mark: '🍎',
  colour: 'rose',
  year: 'running',
  classes: ['OR3'],
  handedOut: { day: -80 },
  entries: [
    pdf('Winter pruning, where to cut', 'orchard', -4, [
      {
        text: 'Cut above a bud that looks outward, slanting away from it. Neither too long nor too close.',
      },
      { drawing: 'pruning', caption: 'Figure 1. The dashed line is the cut.' },
    ]),
    file('Dawn in row 4, who sings.wav', 'audio/vnd.wave', -58, () => makeBirdsong(12), {
      lesson: -58,
    }),
    file('Row 4 in September.jpg', JPG, -60, () => makePicture('orchard'), { lesson: -60 }),
  ],
};

const safety: SampleFolder = {
  title: 'Safety sheets',
  owner: STAFF.tomasz,
  mark: '🧤',
  staff: 'add',
  handedOut: { day: -70 },
  entries: [
    pdf('Glasshouse, what to wear', 'orchard', -70, [
      {
        list: [
          'Gloves and long sleeves for thorny stock.',
          'Goggles when canes are taken out.',
          'Hats on, phones away, while somebody is on a ladder.',
        ],
      },
    ]),
  ],
};

export const SAMPLE_LIBRARY: readonly SampleFolder[] = [
  soilScience,
  propagation,
  guides,
  masters,
  lastYear,
  orchard,
  safety,
];
