import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { escapeHtml, frameHtml } from '../src/index.ts';

describe('escapeHtml', () => {
  it('leaves no character that begins a tag or ends an attribute, and loses nothing', () => {
    const back: Record<string, string> = { '&lt;': '<', '&gt;': '>', '&quot;': '"', '&amp;': '&' };
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        const escaped = escapeHtml(text);
        expect(escaped).not.toMatch(/[<>"]/u);
        expect(escaped.replace(/&(?:lt|gt|quot|amp);/gu, (one) => back[one]!)).toBe(text);
      }),
    );
  });
});

describe('frameHtml', () => {
  it('keeps a title in its attribute', () => {
    const title = '"><script>alert(1)</script>';
    expect(frameHtml({ source: 'https://a.example/embed/x', title, width: 640, height: 480 })).toBe(
      '<iframe src="https://a.example/embed/x" title="&quot;&gt;&lt;script&gt;alert(1)&lt;/script&gt;" width="640" height="480" style="border:1px solid #bbb" loading="lazy"></iframe>',
    );
  });
});
