import { inkOn, readableOn } from '../form/colour';
import { millimetresOf, SHEETS, type PosterDocument, type Sheet } from './document';
import { fitText, type Face, type Measure } from './fit';

/** What is drawn, in the unit of the sheet, from its upper left corner. */
export type Item =
  | { is: 'box'; x: number; y: number; width: number; height: number; fill: string }
  /** `y` is the line the letters stand on. */
  | { is: 'text'; x: number; y: number; size: number; face: Face; fill: string; text: string }
  | { is: 'code'; x: number; y: number; size: number }
  | { is: 'picture'; x: number; y: number; width: number; height: number };

/** What stands on a poster beside what its writer gives. */
export interface Said {
  business: string;
  /** `Text SKY to (719) 555-0110`, or `Scan to sign up`. */
  call: string;
  /** Of an offer; empty: none. */
  offer: string;
  /** What the rules ask for. */
  small: string;
}

export type PosterProblem = 'headline-too-long' | 'words-too-long' | 'small-print' | 'code-too-small';

export const POSTER_WORDS: Record<PosterProblem, string> = {
  'headline-too-long': 'headline: it does not fit. Say it in fewer words.',
  'words-too-long': 'words: they do not fit. Say it in fewer.',
  'small-print':
    'The required wording cannot be set large enough to be read. Take a larger sheet, or fewer words above it.',
  'code-too-small':
    'The code is smaller than 2 cm and may not be read. Take a larger sheet or another arrangement.',
};

export interface Layout {
  sheet: Sheet;
  ground: string;
  items: Item[];
  problems: PosterProblem[];
}

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

const PAPER = '#f6f2e9';
const INK = '#26231e';
const SOFT = '#5c5548';

/** Small print below this cannot be read at arm's length: seven points. */
const LEAST_MM = 2.47;
/** A printed code of 2 cm is read with error correction M and four quiet modules around. */
const LEAST_CODE_MM = 20;

/** Lays a poster out: the same for every file it becomes. */
export function layOut(
  document: PosterDocument,
  said: Said,
  { measure, hasPicture }: { measure: Measure; hasPicture: boolean },
): Layout {
  const sheet = SHEETS[document.sheet];
  const draw = new Drawing(sheet, measure, document.look.colour);
  const margin = Math.min(sheet.width, sheet.height) * 0.07;
  const inner: Box = {
    ...{ x: margin, y: margin, width: sheet.width - 2 * margin, height: sheet.height - 2 * margin },
  };
  const parts: Parts = { document, said, hasPicture, inner, margin };
  switch (document.arrangement) {
    case 'column':
      column(draw, parts);
      break;
    case 'beside':
      beside(draw, parts);
      break;
    case 'band':
      band(draw, parts);
      break;
  }
  return { sheet, ground: PAPER, items: draw.items, problems: [...new Set(draw.problems)] };
}

interface Parts {
  document: PosterDocument;
  said: Said;
  hasPicture: boolean;
  inner: Box;
  margin: number;
}

/** Everything below each other, the code in the middle. */
function column(draw: Drawing, { document, said, hasPicture, inner }: Parts): void {
  const [above, print] = split(inner, 0.86);
  const [business, head, words, picture, call, code, offer] = stack(above, [
    ...([0.05, 0.22, document.words ? 0.1 : 0, hasPicture ? 0.17 : 0, 0.08, 'rest'] as const),
    said.offer ? 0.07 : 0,
  ]);
  draw.line(said.business, business!, 'bold', SOFT, 0.6);
  draw.headline(document.headline, head!, draw.accent);
  draw.words(document.words, words!);
  if (hasPicture) draw.picture(picture!);
  draw.call(said.call, call!);
  draw.code(code!);
  draw.line(said.offer, offer!, 'bold', INK, 0.75);
  draw.small(said.small, print!);
}

/** Words at the left, the code at the right, the small print along the whole. */
function beside(draw: Drawing, { document, said, hasPicture, inner, margin }: Parts): void {
  const upright = inner.height > inner.width * 1.1;
  const [above, print] = split(inner, 0.85);
  const left: Box = { ...above, width: upright ? above.width : above.width * 0.58 };
  const [text, rest] = upright ? split(above, 0.52) : [left, beyond(above, left, margin)];
  const [business, head, words, call, offer] = stack(text, [
    ...([0.08, 'rest', document.words ? 0.18 : 0, 0.16, said.offer ? 0.12 : 0] as const),
  ]);
  draw.line(said.business, business!, 'bold', SOFT, 0.6);
  draw.headline(document.headline, head!, draw.accent);
  draw.words(document.words, words!);
  draw.call(said.call, call!);
  draw.line(said.offer, offer!, 'bold', INK, 0.6);
  if (hasPicture && upright) {
    const picture = { ...rest, width: rest.width * 0.48 };
    draw.picture(picture);
    draw.code(beyond(rest, picture, margin / 2));
  } else if (hasPicture) {
    const [top, bottom] = split(rest, 0.44);
    draw.picture({ ...top, height: top.height - margin / 3 });
    draw.code(bottom);
  } else draw.code(rest);
  draw.small(said.small, print!);
}

/** The headline on a band of the business's colour. */
function band(draw: Drawing, { document, said, hasPicture, inner, margin }: Parts): void {
  const { sheet } = draw;
  const height = sheet.height * 0.36;
  draw.items.push({ is: 'box', x: 0, y: 0, width: sheet.width, height, fill: document.look.colour });
  const ink = inkOn(document.look.colour);
  const [business, head] = stack({ ...inner, height: height - margin * 1.6 }, [0.16, 'rest']);
  draw.line(said.business, business!, 'bold', ink, 0.6);
  draw.headline(document.headline, head!, ink);
  const below: Box = { ...inner, y: height + margin * 0.6, height: sheet.height - height - margin * 1.6 };
  const [above, print] = split(below, 0.76);
  const left: Box = { ...above, width: above.width * 0.5 };
  const right = beyond(above, left, margin * 0.7);
  const [words, call, offer, picture] = stack(left, [
    ...([document.words ? 0.26 : 0, hasPicture ? 0.24 : 0.4, said.offer ? 0.18 : 0, 'rest'] as const),
  ]);
  draw.words(document.words, words!);
  draw.call(said.call, call!);
  draw.line(said.offer, offer!, 'bold', INK, 0.5);
  if (hasPicture) draw.picture(picture!);
  draw.code(right);
  draw.small(said.small, print!);
}

const split = ({ x, y, width, height }: Box, share: number): [Box, Box] => [
  { x, y, width, height: height * share },
  { x, y: y + height * share, width, height: height * (1 - share) },
];

const beyond = (whole: Box, left: Box, gap: number): Box => ({
  ...whole,
  x: left.x + left.width + gap,
  width: whole.width - left.width - gap,
});

/** Boxes below each other by their shares of the height; one of them takes what is left. */
function stack({ x, y, width, height }: Box, shares: readonly (number | 'rest')[]): Box[] {
  const rest = 1 - shares.reduce<number>((sum, share) => sum + (share === 'rest' ? 0 : share), 0);
  let top = y;
  return shares.map((share) => {
    const box = { x, y: top, width, height: height * (share === 'rest' ? rest : share) };
    top += box.height;
    return box;
  });
}

class Drawing {
  readonly items: Item[] = [];
  readonly problems: PosterProblem[] = [];
  readonly accent: string;

  constructor(
    readonly sheet: Sheet,
    private readonly measure: Measure,
    colour: string,
  ) {
    this.accent = readableOn(colour, PAPER);
  }

  headline(text: string, box: Box, fill: string): void {
    if (!this.text(text, box, { face: 'head', fill, most: box.height * 0.6, leading: 1.12 }))
      this.problems.push('headline-too-long');
  }

  words(text: string, box: Box): void {
    if (!this.text(text, box, { face: 'body', fill: INK, most: box.height * 0.4, leading: 1.3 }))
      this.problems.push('words-too-long');
  }

  call(text: string, box: Box): void {
    this.text(text, box, { face: 'bold', fill: INK, most: box.height * 0.5, leading: 1.2 });
  }

  /** One line, as large as a share of its box allows. */
  line(text: string, box: Box, face: Face, fill: string, share: number): void {
    this.text(text, box, { face, fill, most: box.height * share, leading: 1.2 });
  }

  small(text: string, box: Box): void {
    const most = Math.min(this.sheet.width, this.sheet.height) * 0.022;
    if (!this.text(text, box, { face: 'body', fill: SOFT, most, leading: 1.3, atBottom: true }))
      this.problems.push('small-print');
  }

  private text(
    text: string,
    box: Box,
    how: { face: Face; fill: string; most: number; leading: number; atBottom?: true },
  ): boolean {
    if (text.trim() === '') return true;
    const { face, fill, leading } = how;
    // What follows below keeps a distance.
    const height = box.height * (how.atBottom ? 1 : 0.88);
    const room = { width: box.width, height, most: how.most, least: this.least, leading, face };
    const { size, lines, fits } = fitText(text, room, this.measure);
    const top = how.atBottom ? box.y + box.height - lines.length * size * leading : box.y;
    lines.forEach((line, i) =>
      this.items.push({
        ...{ is: 'text', x: box.x, y: top + i * size * leading + size * 0.85, size, face, fill, text: line },
      }),
    );
    return fits;
  }

  /** The smallest size anything is set in. */
  private get least(): number {
    return this.sheet.unit === 'mm' ? LEAST_MM : (LEAST_MM * 96) / 25.4;
  }

  /** The code in the middle of its box, on white with its quiet zone. */
  code(box: Box): void {
    const size = Math.min(box.width, box.height * 0.96);
    const [x, y] = [box.x + (box.width - size) / 2, box.y + (box.height - size) / 2];
    this.items.push({ is: 'code', x, y, size });
    if (millimetresOf(this.sheet, size) < LEAST_CODE_MM) this.problems.push('code-too-small');
  }

  picture({ x, y, width, height }: Box): void {
    const gap = height * 0.06;
    this.items.push({ is: 'picture', x, y: y + gap / 2, width, height: height - gap });
  }
}
