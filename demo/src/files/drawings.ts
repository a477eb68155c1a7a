import { random } from './random.ts';

type Doc = PDFKit.PDFDocument;

/** Drawings for handouts: each draws itself into `width` points from the origin on. */
export interface Drawing {
  readonly height: number;
  draw(doc: Doc, width: number): void;
}

const INK = '#1f2a2e';

function label(doc: Doc, text: string, x: number, y: number, width = 150) {
  doc.font('text').fontSize(9.5).fillColor(INK).text(text, x, y, { width });
}

function leader(doc: Doc, x1: number, y1: number, x2: number, y2: number) {
  doc.moveTo(x1, y1).lineTo(x2, y2).lineWidth(0.7).stroke('#8b8471');
}

/** The layers of a soil pit with roots and stones. */
const soilProfile: Drawing = {
  height: 250,
  draw(doc) {
    const rand = random('soil profile');
    const layers = [
      ['O  leaf litter', '#5b4a2f', 22],
      ['A  dark topsoil, many roots', '#4a3524', 58],
      ['E  pale, washed out', '#a58b66', 36],
      ['B  clay and iron gathered', '#9a5b2c', 68],
      ['C  broken parent rock', '#b3a084', 56],
    ] as const;
    let y = 0;
    for (const [name, colour, height] of layers) {
      doc.rect(0, y, 220, height).fill(colour);
      for (let n = 0; n < height / 2; n += 1)
        doc
          .circle(rand() * 216 + 2, y + rand() * (height - 2) + 1, rand() * 1.4 + 0.3)
          .fillOpacity(0.15)
          .fill('#000000')
          .fillOpacity(1);
      leader(doc, 220, y + height / 2, 262, y + height / 2);
      label(doc, name, 268, y + height / 2 - 6, 210);
      y += height;
    }
    for (let n = 0; n < 26; n += 1) {
      const x = rand() * 210 + 5;
      doc.moveTo(x, 8);
      doc.bezierCurveTo(x - 8, 34, x + 10, 60, x + rand() * 24 - 12, 40 + rand() * 110);
      doc.lineWidth(0.6).stroke('#d9c9a3');
    }
    for (let n = 0; n < 18; n += 1)
      doc
        .ellipse(rand() * 206 + 7, 190 + rand() * 46, 5 + rand() * 8, 3 + rand() * 5)
        .fill('#8d8069');
  },
};

/** A pH scale from acid to alkaline with what likes to grow where. */
const phScale: Drawing = {
  height: 128,
  draw(doc, width) {
    const colours = [
      '#c2402f',
      '#d8702f',
      '#e3a32f',
      '#c9b23a',
      '#7d9b43',
      '#3f7f56',
      '#2f6f77',
      '#2c5f9e',
      '#5b4a86',
    ];
    const step = width / colours.length;
    colours.forEach((colour, n) => {
      doc.rect(n * step, 30, step - 2, 40).fill(colour);
      doc.font('bold').fontSize(12).fillColor('#ffffff');
      doc.text(`${n + 3.5}`, n * step, 43, { width: step - 2, align: 'center' });
    });
    label(doc, 'acid', 0, 10);
    label(doc, 'alkaline', width - 44, 10);
    const likes: [number, number, string][] = [
      [1, 3, 'blueberry, azalea'],
      [2.6, 5, 'apple, strawberry'],
      [3.4, 5.6, 'most vegetables'],
      [4.6, 6.6, 'cabbage, clematis'],
    ];
    likes.forEach(([from, to, name], n) => {
      const y = 82 + n * 11;
      doc
        .moveTo(from * step, y)
        .lineTo(to * step, y)
        .lineWidth(2)
        .stroke('#12535a');
      label(doc, name, to * step + 6, y - 6);
    });
  },
};

/** The triangle of sand, silt and clay. */
const textureTriangle: Drawing = {
  height: 236,
  draw(doc) {
    const top: [number, number] = [190, 6];
    const left: [number, number] = [60, 216];
    const right: [number, number] = [320, 216];
    doc.polygon(top, left, right).fillAndStroke('#f7f2e6', '#8b8471');
    for (let n = 1; n < 10; n += 1) {
      const f = n / 10;
      const between = (a: [number, number], b: [number, number]): [number, number] => [
        a[0] + (b[0] - a[0]) * f,
        a[1] + (b[1] - a[1]) * f,
      ];
      for (const [a, b, c, d] of [
        [top, left, top, right],
        [left, top, left, right],
        [right, top, right, left],
      ] as const) {
        const [x1, y1] = between(a, b);
        const [x2, y2] = between(c, d);
        doc.moveTo(x1, y1).lineTo(x2, y2).lineWidth(0.4).stroke('#d5cbb5');
      }
    }
    const spots: [string, number, number, string][] = [
      ['clay', 190, 62, '#9a5b2c'],
      ['sandy loam', 116, 186, '#c9a25e'],
      ['loam', 184, 168, '#7a5c3a'],
      ['silt loam', 258, 190, '#8d8069'],
      ['clay loam', 190, 124, '#7c4a2d'],
    ];
    for (const [name, x, y, colour] of spots) {
      doc.circle(x, y, 6).fill(colour);
      label(doc, name, x + 10, y - 6, 80);
    }
    doc.font('bold').fontSize(10.5).fillColor(INK);
    doc.text('CLAY', 176, -8, { lineBreak: false });
    doc.text('SAND', 22, 214, { lineBreak: false });
    doc.text('SILT', 328, 214, { lineBreak: false });
  },
};

/** Three steps of a root cutting. */
const rootCutting: Drawing = {
  height: 180,
  draw(doc) {
    const steps = [
      'Lift and wash',
      'Cut: straight on top, slanted below',
      'Set upright, cover with sand',
    ];
    steps.forEach((step, n) => {
      const x = n * 162;
      doc.rect(x, 0, 148, 138).fill('#f4efe2');
      doc.rect(x, 84, 148, 54).fill('#6b4c30');
      if (n === 2) doc.rect(x, 74, 148, 12).fill('#dcc99a');
      const pieces = n === 0 ? 1 : 3;
      for (let p = 0; p < pieces; p += 1) {
        const px = x + (pieces === 1 ? 70 : 34 + p * 38);
        const [y1, y2] = n === 1 ? [26, 68] : n === 2 ? [84, 124] : [40, 128];
        doc.polygon([px, y1], [px + 10, y1], [px + 10, y2 - 8], [px, y2]).fill('#c98f55');
        if (n === 0) {
          doc
            .moveTo(px + 5, y1)
            .bezierCurveTo(px - 10, 30, px - 26, 26, px - 34, 12)
            .lineWidth(2)
            .stroke('#3f7f56');
          doc
            .moveTo(px + 5, y1)
            .bezierCurveTo(px + 16, 28, px + 30, 26, px + 40, 8)
            .lineWidth(2)
            .stroke('#3f7f56');
        }
      }
      doc
        .font('bold')
        .fontSize(10)
        .fillColor(INK)
        .text(`${n + 1}`, x, 146, { lineBreak: false });
      label(doc, step, x + 14, 146, 132);
    });
  },
};

/** Whip-and-tongue graft: scion and rootstock, apart and joined. */
const graft: Drawing = {
  height: 190,
  draw(doc) {
    const stick = (x: number, y: number, height: number, colour: string, up: boolean) => {
      const slant = up ? y : y + height;
      const dir = up ? 1 : -1;
      doc
        .polygon(
          [x, slant + dir * 36],
          [x + 16, slant],
          [x + 16, up ? y + height : y],
          [x, up ? y + height : y],
        )
        .fill(colour);
      doc
        .moveTo(x + 8, slant + dir * 12)
        .lineTo(x + 6, slant + dir * 34)
        .lineWidth(1.4)
        .stroke('#fffdf8');
    };
    stick(60, 0, 84, '#8b6a43', false);
    stick(60, 96, 84, '#5b4a2f', true);
    label(doc, 'scion, three buds', 90, 24);
    label(doc, 'rootstock', 90, 140);
    stick(270, 0, 100, '#8b6a43', false);
    stick(270, 64, 110, '#5b4a2f', true);
    for (let n = 0; n < 8; n += 1) doc.rect(266, 60 + n * 6, 24, 4).fill('#e9dfc6');
    label(doc, 'bark meets bark on one side; bind, then wax', 302, 76, 150);
  },
};

/** A compost heap layer by layer. */
const compost: Drawing = {
  height: 190,
  draw(doc) {
    const rand = random('compost');
    const layers = ['#5b4a2f', '#7d9b43', '#8b6a43', '#6f8a3a', '#4a3524'];
    const names = [
      'finished compost on top',
      'fresh green: grass, leaves',
      'dry brown: straw, twigs',
      'kitchen peelings',
      'coarse branches let air in',
    ];
    layers.forEach((colour, n) => {
      const y = 10 + n * 33;
      const inset = 70 - n * 14;
      doc
        .polygon([inset, y], [300 - inset, y], [300 - inset + 14, y + 33], [inset - 14, y + 33])
        .fill(colour);
      for (let k = 0; k < 30; k += 1) {
        const x = inset + rand() * (300 - 2 * inset);
        doc
          .moveTo(x, y + rand() * 28 + 2)
          .lineTo(x + rand() * 12 - 6, y + rand() * 28 + 2)
          .lineWidth(0.8)
          .strokeOpacity(0.3)
          .stroke('#ffffff')
          .strokeOpacity(1);
      }
      leader(doc, 300 - inset + 8, y + 16, 330, y + 16);
      label(doc, names[n]!, 336, y + 10, 150);
    });
  },
};

/** Where to cut: above an outward bud, slanting away. */
const pruning: Drawing = {
  height: 150,
  draw(doc) {
    const cuts = [
      ['right', 0],
      ['too long', 46],
      ['too close', -10],
    ] as const;
    cuts.forEach(([name, gap], n) => {
      const x = n * 160 + 40;
      const top = 50 - gap / 1.6;
      doc
        .polygon([x, 140], [x + 18, 140], [x + 18, top + (n === 2 ? 18 : 10)], [x, top])
        .fill('#8b6a43');
      doc.ellipse(x + 22, 66, 7, 11).fill('#7d9b43');
      doc
        .moveTo(x - 14, top - 6)
        .lineTo(x + 36, top + 22)
        .dash(3, { space: 3 })
        .lineWidth(1)
        .stroke('#b0412b')
        .undash();
      label(doc, name, x + 34, 100);
    });
  },
};

/** Five leaf shapes in a row. */
const leaves: Drawing = {
  height: 130,
  draw(doc) {
    const shapes: [string, number, number][] = [
      ['lanceolate', 12, 50],
      ['elliptic', 22, 44],
      ['ovate', 28, 40],
      ['round', 36, 36],
      ['linear', 5, 52],
    ];
    shapes.forEach(([name, rx, ry], n) => {
      const x = n * 96 + 44;
      doc
        .moveTo(x, 56 - ry)
        .bezierCurveTo(x + rx * 1.3, 56 - ry / 3, x + rx * 1.2, 56 + ry / 2, x, 56 + ry);
      doc
        .bezierCurveTo(x - rx * 1.2, 56 + ry / 2, x - rx * 1.3, 56 - ry / 3, x, 56 - ry)
        .fill('#3f7f56');
      doc
        .moveTo(x, 56 - ry)
        .lineTo(x, 56 + ry + 8)
        .lineWidth(1.2)
        .stroke('#cfe0c5');
      label(doc, name, x - 28, 116, 90);
    });
  },
};

export const DRAWINGS = {
  soilProfile,
  phScale,
  textureTriangle,
  rootCutting,
  graft,
  compost,
  pruning,
  leaves,
} satisfies Record<string, Drawing>;
export type DrawingName = keyof typeof DRAWINGS;
