// Makes the letters of every first page smaller: `node scripts/fonts.mjs`. Latin script in the weights that the screens
// have, and the marks that folders of a school have most. All else is fetched from the whole fonts where it is met.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import subset from 'subset-font';
import { root } from './lib/run.mjs';

const FONTS = join(root, 'node_modules', '@fontsource-variable');
const TARGET = join(root, 'web', 'src', 'app', 'shell', 'fonts');

/** What each face is for, and the weights it is needed in: one for titles, a span for what is read. */
const LETTERS = [
  { name: 'title', font: 'literata', weight: 600 },
  { name: 'text', font: 'atkinson-hyperlegible-next', weight: { min: 400, max: 700 } },
  { name: 'code', font: 'atkinson-hyperlegible-mono', weight: { min: 400, max: 600 } },
];

/** Marks that come together: whoever has one has others of its kind. */
const MARKS = {
  'marks-nature': '🌱🌿🍀🌾🌳🌲🌴🌵🌷🌹🌻🌼🍂🍁🍄🍎🍐🍇🍓🥕🌽🪴🪱🐝🐛🐞🦋🐦🐟🐄🐎🐑🌍🌊🔥💧',
  'marks-study': '📝📚📖📓📒📕📗📘📙📄📋📎📌📐📏🔬🔭🧪🧬🔎🔍🧠💡🖊🖍🎓🏫🗂🗃📁📂🗺🧭🧮🔢🔤',
  'marks-work': '🛠🔧🔨🪚🧰🧲🏗🚜🚗🚲🏠🏥🍳🍞🧵🎨🎭🎵🎧🎬🎤📷🎥💻📱🖥🖨🔌🔋🏃🏆🎯🎲🧩🚀🧤',
  'marks-signs': '⭐🌟❓❗✅❌🔔📅📆⏰⏳🔑🔒🔓🔗📣💬📢📬📥📤📊📈📉❤💚💙💛⚠♻⚡☀☁☂❄🏁🚩🎁🎉👋👍👀✋',
};

const faceOf = (css, file) => {
  const face = css.split('@font-face').find((part) => part.includes(`/${file}-wght-normal.woff2`));
  return {
    family: /font-family: '([^']+)'/u.exec(face)[1],
    range: /unicode-range: ([^;]+);/u.exec(face)[1],
    weights: /font-weight: ([^;]+);/u.exec(face)[1],
  };
};
const pointsIn = (range) =>
  range.split(',').flatMap((part) => {
    const [from, to = from] = part.trim().replace('U+', '').split('-');
    const first = Number.parseInt(from, 16);
    return Array.from({ length: Number.parseInt(to, 16) - first + 1 }, (_, n) => first + n);
  });
const rule = ({ family, weights, name, range }) => `
@font-face {
  font-family: '${family}';
  font-style: normal;
  font-display: swap;
  font-weight: ${weights};
  src: url(./${name}.woff2) format('woff2');
  unicode-range: ${range};
}
`;
const cssOf = (font) => readFileSync(join(FONTS, font, 'index.css'), 'utf8');
const fileOf = (font, file) =>
  readFileSync(join(FONTS, font, 'files', `${file}-wght-normal.woff2`));

let css =
  '/* Made by scripts/fonts.mjs; after the whole fonts, since the last face that has a letter is taken. */\n';
for (const { name, font, weight } of LETTERS) {
  const file = `${font}-latin`;
  const { family, range, weights } = faceOf(cssOf(font), file);
  const text = String.fromCodePoint(...pointsIn(range));
  const made = await subset(fileOf(font, file), text, {
    targetFormat: 'woff2',
    variationAxes: { wght: weight },
  });
  writeFileSync(join(TARGET, `${name}.woff2`), made);
  css += rule({ family, range, weights, name });
}

const marksCss = cssOf('noto-emoji');
const files = Array.from({ length: 10 }, (_, n) => `noto-emoji-${n}`);
const holder = new Map(
  files.flatMap((file) => pointsIn(faceOf(marksCss, file).range).map((point) => [point, file])),
);
for (const [group, marks] of Object.entries(MARKS)) {
  const byFile = new Map();
  for (const mark of marks) {
    const file = holder.get(mark.codePointAt(0));
    byFile.set(file, [...(byFile.get(file) ?? []), mark]);
  }
  for (const [file, those] of byFile) {
    const name = `${group}-${file.split('-').at(-1)}`;
    const made = await subset(fileOf('noto-emoji', file), `${those.join('')}\u{fe0f}`, {
      targetFormat: 'woff2',
      variationAxes: { wght: 400 },
    });
    writeFileSync(join(TARGET, `${name}.woff2`), made);
    const { family, weights } = faceOf(marksCss, file);
    const range = those.map((mark) => `U+${mark.codePointAt(0).toString(16)}`).join(', ');
    css += rule({ family, weights, name, range });
  }
}
writeFileSync(join(TARGET, 'fonts.css'), css);
