/** A colour as `#rrggbb`. */
export type Colour = string;

export const isColour = (text: string): boolean => /^#[0-9a-f]{6}$/i.test(text);

type Rgb = [red: number, green: number, blue: number];

const rgbOf = (colour: Colour): Rgb =>
  [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16)) as Rgb;

const hexOf = (rgb: Rgb): Colour =>
  `#${rgb.map((part) => Math.round(part).toString(16).padStart(2, '0')).join('')}`;

/** Relative luminance, 0 to 1. Source: WCAG 2.2. */
function luminance(colour: Colour): number {
  const [red, green, blue] = rgbOf(colour).map((part) => {
    const share = part / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as Rgb;
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

/** How far two colours stand apart, 1 to 21. Source: WCAG 2.2. */
export function contrast(one: Colour, other: Colour): number {
  const [dark, light] = [luminance(one), luminance(other)].sort((a, b) => a - b) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

/** What small letters need on their ground. Source: WCAG 2.2, 1.4.3. */
export const READABLE = 4.5;

/** Black or white, whichever is read better on a ground: one of them always can be. */
export const inkOn = (ground: Colour): Colour =>
  contrast(ground, '#ffffff') >= contrast(ground, '#000000') ? '#ffffff' : '#000000';

/** The colour itself where it is read on the ground; else the nearest darker or lighter one that is. */
export function readableOn(colour: Colour, ground: Colour): Colour {
  const towards = inkOn(ground) === '#000000' ? 0 : 255;
  for (let step = 0; step <= 20; step++) {
    const mixed = hexOf(rgbOf(colour).map((part) => part + ((towards - part) * step) / 20) as Rgb);
    if (contrast(mixed, ground) >= READABLE) return mixed;
  }
  return inkOn(ground);
}
