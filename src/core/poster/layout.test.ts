import { describe, expect, it } from 'vitest';
import { ARRANGEMENTS, newPoster, SHEETS, type Arrangement, type SheetName } from './document';
import type { Measure } from './fit';
import { layOut, type Item, type Layout } from './layout';

const measure: Measure = (text, face) => [...text].length * (face === 'bold' ? 0.55 : 0.5);
const SMALL =
  'Text SKY to (719) 555-0110 to get Clear Sky Alerts from Juniper Gap Observatory. By texting SKY you agree to get recurring automated texts. Up to 6 msgs/month. Msg & data rates may apply. Reply HELP for help, STOP to stop. Consent is not a condition of purchase.';
const SAID = {
  ...{ business: 'Juniper Gap Observatory', call: 'Text SKY to (719)\u00a0555-0110', small: SMALL },
  offer: 'One free hour in the dome.',
};

const ALL = (Object.keys(SHEETS) as SheetName[]).flatMap((sheet) =>
  (Object.keys(ARRANGEMENTS) as Arrangement[]).flatMap((arrangement) =>
    [true, false].map((full) => [sheet, arrangement, full] as const),
  ),
);

const laid = (sheet: SheetName, arrangement: Arrangement, full: boolean): Layout =>
  layOut(
    {
      ...newPoster('Clear skies over the gap'),
      ...{ sheet, arrangement, words: full ? 'We text you when the dome opens.' : '' },
    },
    { ...SAID, offer: full ? SAID.offer : '' },
    { measure, hasPicture: full },
  );

interface Area {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

function areaOf(item: Exclude<Item, { is: 'box' }>): Area {
  if (item.is === 'text')
    return {
      ...{ left: item.x, right: item.x + measure(item.text, item.face) * item.size },
      ...{ top: item.y - item.size * 0.75, bottom: item.y + item.size * 0.2 },
    };
  const [width, height] = item.is === 'code' ? [item.size, item.size] : [item.width, item.height];
  return { left: item.x, top: item.y, right: item.x + width, bottom: item.y + height };
}

const overlap = (one: Area, other: Area): boolean =>
  one.left < other.right - 0.01 &&
  other.left < one.right - 0.01 &&
  one.top < other.bottom - 0.01 &&
  other.top < one.bottom - 0.01;

describe('a poster laid out', () => {
  it.each(ALL)('on %s, %s, with everything on it: %s, has nothing over anything else', (sheet, how, full) => {
    const { items, problems } = laid(sheet, how, full);
    expect(problems).toEqual([]);
    const placed = items.filter((item) => item.is !== 'box').map((item) => ({ item, area: areaOf(item) }));
    expect(placed.filter(({ item }) => item.is === 'code')).toHaveLength(1);
    for (const [i, one] of placed.entries())
      for (const other of placed.slice(i + 1))
        expect(
          overlap(one.area, other.area),
          `${JSON.stringify(one.item)} over ${JSON.stringify(other.item)}`,
        ).toBe(false);
    for (const { area } of placed) {
      expect(area.left).toBeGreaterThanOrEqual(0);
      expect(area.right).toBeLessThanOrEqual(SHEETS[sheet].width + 0.01);
      expect(area.bottom).toBeLessThanOrEqual(SHEETS[sheet].height + 0.01);
    }
  });

  it.each(ALL)('on %s, %s, says everything that it must: %s', (sheet, how, full) => {
    const { items } = laid(sheet, how, full);
    const text = items.flatMap((item) => (item.is === 'text' ? [item.text] : [])).join(' ');
    for (const words of [SAID.business, 'Clear skies over the gap', SAID.call, SMALL])
      expect(text.replace(/\s+/g, ' ')).toContain(words.replace(/\s+/g, ' '));
  });

  it('says when the required wording cannot be read on it', () => {
    const document = { ...newPoster('Sky'), sheet: 'table-card' as const };
    const said = { ...SAID, small: SMALL.repeat(12) };
    expect(layOut(document, said, { measure, hasPicture: false }).problems).toEqual(['small-print']);
  });
});
