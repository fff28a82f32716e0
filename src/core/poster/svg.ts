import { escaped } from '../shared/escape';
import type { Item, Layout } from './layout';

/** The outlines of a text at a size, its first letter at 0, as the data of a path. */
export type Outline = (text: string, face: Extract<Item, { is: 'text' }>['face'], size: number) => string;

export interface Drawn {
  outline: Outline;
  /** Dark modules of the code, quiet zone included. */
  code: readonly (readonly boolean[])[];
  /** The picture as the address of its data; null: none. */
  picture: string | null;
  /** What it says, for whoever cannot see it. */
  says: string;
}

const round = (value: number): string => String(Math.round(value * 1_000) / 1_000);

/** A poster as SVG: letters are outlines, so that it looks the same everywhere. */
export function posterSvg({ sheet, ground, items }: Layout, drawn: Drawn): string {
  const { width, height, unit } = sheet;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}${unit}" height="${height}${unit}" viewBox="0 0 ${width} ${height}" role="img">
<title>${escaped(drawn.says)}</title>
<rect width="${width}" height="${height}" fill="${ground}"/>
${items.map((item) => itemSvg(item, drawn)).join('\n')}
</svg>
`;
}

function itemSvg(item: Item, { outline, code, picture }: Drawn): string {
  switch (item.is) {
    case 'box':
      return `<rect x="${round(item.x)}" y="${round(item.y)}" width="${round(item.width)}" height="${round(item.height)}" fill="${item.fill}"/>`;
    case 'text':
      return `<path transform="translate(${round(item.x)} ${round(item.y)})" fill="${item.fill}" d="${outline(item.text, item.face, item.size)}"/>`;
    case 'picture':
      return picture
        ? `<image x="${round(item.x)}" y="${round(item.y)}" width="${round(item.width)}" height="${round(item.height)}" preserveAspectRatio="xMidYMid slice" href="${picture}"/>`
        : '';
    case 'code': {
      const dot = item.size / code.length;
      return `<g transform="translate(${round(item.x)} ${round(item.y)})"><rect width="${round(item.size)}" height="${round(item.size)}" fill="#ffffff"/><path transform="scale(${dot})" shape-rendering="crispEdges" fill="#000000" d="${modulesOf(code)}"/></g>`;
    }
  }
}

/** Dark modules as runs along each row. */
export const modulesOf = (code: Drawn['code']): string =>
  code
    .flatMap((row, y) => {
      const runs: string[] = [];
      for (let x = 0; x < row.length; x++) {
        if (!row[x]) continue;
        const from = x;
        while (row[x + 1]) x++;
        runs.push(`M${from} ${y}h${x - from + 1}v1h-${x - from + 1}z`);
      }
      return runs;
    })
    .join('');
