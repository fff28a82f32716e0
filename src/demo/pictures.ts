import type { Scope } from '@/db/kit/scope';
import type { Actor } from '@/services/kit/actor';
import { importItems } from '@/services/items/import-items';
import { keepFile } from '@/services/media/files';
import { must, type DemoWorld } from './world';

/** Drawn here, so that nobody's picture is used. */
const drawing = (width: number, height: number, inside: string): Buffer =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${inside}</svg>`,
  );

const stars = (count: number, width: number, height: number): string =>
  Array.from({ length: count }, (_, i) => {
    const [x, y] = [(i * 7_919 + i * i * 31) % width, (i * 6_151 + i * i * 17) % height];
    return `<circle cx="${x}" cy="${y}" r="${1 + (i % 3)}" fill="#fff" opacity="${0.3 + (i % 7) / 10}"/>`;
  }).join('');

const DOME = drawing(
  1_600,
  1_066,
  `<rect width="1600" height="1066" fill="#141833"/>${stars(320, 1_600, 860)}<path d="M0 1066V880Q800 720 1600 880V1066Z" fill="#0b0b10"/><path d="M620 850a180 180 0 0 1 360 0Z" fill="#d8cfc0"/><path d="M780 672h40v178h-40z" fill="#2a2a33"/>`,
);
const HUNTER = drawing(
  1_200,
  1_200,
  `<rect width="1200" height="1200" fill="#070912"/>${stars(260, 1_200, 1_200)}${[
    [400, 260, 11],
    [760, 300, 9],
    [540, 620, 8],
    [600, 600, 8],
    [660, 578, 8],
    [450, 940, 9],
    [800, 900, 13],
  ]
    .map(([x, y, r]) => `<circle cx="${x}" cy="${y}" r="${r}" fill="#fff6dd"/>`)
    .join('')}`,
);

export async function jpegOf(svg: Buffer): Promise<Buffer> {
  const { default: sharp } = await import('sharp');
  return sharp(svg).jpeg({ quality: 88 }).toBuffer();
}

/** What somebody saw from their yard. */
export const SEEN = drawing(
  800,
  600,
  `<rect width="800" height="600" fill="#0d1020"/>${stars(90, 800, 600)}`,
);

const PICTURES = [
  { name: 'dome-at-night.jpg', svg: DOME, alt: 'The dome under a sky full of stars' },
  { name: 'orion.jpg', svg: HUNTER, alt: 'Seven bright stars: Orion' },
];

/** Keeps the house's pictures; gives their ids by name. */
export async function keepPictures(
  world: DemoWorld,
  scope: Scope,
  actor: Actor,
): Promise<Record<string, string>> {
  const ids: Record<string, string> = {};
  for (const { name, svg, alt } of PICTURES)
    ids[name] = must(await keepFile(world.ctx, scope, { name, bytes: await jpegOf(svg), alt }, actor)).id;
  return ids;
}

/** What is on in the weeks to come, as the house keeps it in a table. */
export async function keepItems(world: DemoWorld, scope: Scope, actor: Actor): Promise<void> {
  const on = (days: number, time: string) =>
    `${new Date(world.at + days * 86_400_000).toISOString().slice(0, 10)} ${time}`;
  const table = [
    'number,kind,name,starts,ends,place,price,link,state',
    `E-201,event,Ring night,${on(4, '19:30')},${on(4, '21:30')},the terrace,free,https://juniper-gap.example.org/ring,on`,
    `E-202,event,Silent night show,${on(9, '20:00')},,the dome,12 USD,https://juniper-gap.example.org/silent,on`,
    `E-203,event,Guided night walk,${on(11, '18:00')},,east gate,8 USD,https://juniper-gap.example.org/walk,sold out`,
    `E-204,event,Members’ breakfast,${on(17, '07:30')},,the terrace,free,,on`,
    `E-198,event,Meteorite Saturday,${on(-21, '11:00')},,the gift shop,free,,on`,
    'T-7,tour,Behind the big mirror,,,the workshop,15 USD,https://juniper-gap.example.org/mirror,on',
    'A-31,article,Pocket star wheel,,,the gift shop,9 USD,https://juniper-gap.example.org/wheel,on',
  ].join('\n');
  const taken = must(await importItems(world.ctx, scope, Buffer.from(table), actor));
  if (taken.refused.length > 0) throw new Error(taken.refused.map(({ why }) => why).join(' '));
}
