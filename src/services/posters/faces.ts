import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Font } from 'fontkit';
import { decompress } from 'wawoff2';
import { onceLoaded } from '@/core/shared/once';
import type { Face, Measure } from '@/core/poster/fit';
import type { Outline } from '@/core/poster/svg';

/** The faces the application ships, as files of one script each, at the weight a poster sets them in. */
const FILES: Record<Face, { family: string; weight: number }> = {
  head: { family: 'newsreader', weight: 600 },
  body: { family: 'instrument-sans', weight: 400 },
  bold: { family: 'instrument-sans', weight: 700 },
};

/** Letters a face has not are taken from these, in this order. */
const FALLBACK = [
  'latin',
  'latin-ext',
  'cyrillic',
  'cyrillic-ext',
  'greek',
  'greek-ext',
  'vietnamese',
  'devanagari',
];

export interface Faces {
  measure: Measure;
  outline: Outline;
  /** Characters that no shipped face has. */
  missing(text: string): string[];
}

/** Read once per process. */
export const loadFaces = onceLoaded(readFaces);

async function readFaces(): Promise<Faces> {
  const fonts = {} as Record<Face, Font[]>;
  for (const [face, { family, weight }] of Object.entries(FILES) as [Face, (typeof FILES)[Face]][]) {
    const files = [
      ...['latin', 'latin-ext'].map((script) => [family, script, weight] as const),
      ...FALLBACK.map((script) => ['noto-sans', script, weight] as const),
    ];
    fonts[face] = [];
    // One after the other: the library that opens them works in one piece of memory.
    for (const [of, script, at] of files) fonts[face].push(await open(of, script, at));
  }
  return { measure: measureBy(fonts), outline: outlineBy(fonts), missing: missingBy(fonts.body) };
}

async function open(family: string, script: string, weight: number): Promise<Font> {
  const file = join(
    process.cwd(),
    'node_modules/@fontsource-variable',
    family,
    'files',
    `${family}-${script}-wght-normal.woff2`,
  );
  const { create } = await import('fontkit');
  // Weights cannot be chosen in the compressed form.
  const font = create(Buffer.from(await decompress(await readFile(file)))) as Font;
  return font.getVariation({ wght: weight });
}

const has = (font: Font, letter: string): boolean => font.hasGlyphForCodePoint(letter.codePointAt(0)!);

/** Pieces of a text that one font can set. A letter none has is left out. */
function runsOf(fonts: readonly Font[], text: string): { font: Font; text: string }[] {
  const runs: { font: Font; text: string }[] = [];
  for (const letter of text) {
    const last = runs.at(-1);
    // What the first font has is set in it; else what is set goes on as long as it can.
    const font = has(fonts[0]!, letter)
      ? fonts[0]!
      : [last?.font, ...fonts].find((one) => one && has(one, letter));
    if (!font) continue;
    if (last?.font === font) last.text += letter;
    else runs.push({ font, text: letter });
  }
  return runs;
}

/** Widths that are remembered: lines are measured anew with every word, and pages that name posters lay them out again. */
const REMEMBERED = 10_000;

function measureBy(fonts: Record<Face, Font[]>): Measure {
  const known = new Map<string, number>();
  return (text, face) => {
    const key = `${face} ${text}`;
    const width = known.get(key) ?? widthOf(fonts[face], text);
    if (known.size >= REMEMBERED) known.clear();
    known.set(key, width);
    return width;
  };
}

const widthOf = (fonts: readonly Font[], text: string): number =>
  runsOf(fonts, text).reduce(
    (width, run) => width + run.font.layout(run.text).advanceWidth / run.font.unitsPerEm,
    0,
  );

const outlineBy =
  (fonts: Record<Face, Font[]>): Outline =>
  (text, face, size) => {
    let x = 0;
    const paths: string[] = [];
    for (const { font, text: words } of runsOf(fonts[face], text)) {
      const scale = size / font.unitsPerEm;
      const { glyphs, positions } = font.layout(words);
      glyphs.forEach((glyph, i) => {
        const { xOffset, yOffset, xAdvance } = positions[i]!;
        // Letters are drawn upwards in a face and downwards on a sheet.
        const path = glyph.path
          .scale(scale, -scale)
          .translate(x + xOffset * scale, -yOffset * scale)
          .toSVG();
        if (path !== '') paths.push(path);
        x += xAdvance * scale;
      });
    }
    return paths
      .join('')
      .replace(/-?\d+\.\d{3,}/g, (number) => String(Math.round(Number(number) * 100) / 100));
  };

const missingBy =
  (fonts: readonly Font[]) =>
  (text: string): string[] => [
    ...new Set([...text].filter((letter) => !/\s/.test(letter) && !fonts.some((font) => has(font, letter)))),
  ];
