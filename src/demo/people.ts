/** Invented people on fictional numbers (area code + 555-0100 to -0199), some with names that strain a layout. */

const FIRST =
  'Ana Ben Carla Dov Elif Finn Grace Hana Ivo Jun Kira Leon Mara Nils Odette Paul Quinn Rosa Sven Tara Uma Viktor Wanda Xenia Yusuf Zoe Amara Bruno Celine Diego Esme Farid Greta Hugo Inés Jakob Kalina Luca Maeve Noor Orla Petra Rafael Saskia Tomás Ulrike Vera Wim Ximena Yara Zeynep Aoife Björn Chloé Dónal Eszter Françoise Gülçin Håkon Ísak Jürgen Łucja Márton Niño Øyvind'.split(
    ' ',
  );
const LAST =
  'Abara Bellweather Castellane Dunmore Eastlake Farrow Gildersleeve Holloway Ingersleben Jarrold Kettleby Larkmoor Mendelow Northgate Okonjowa Pellwright Quillfeather Rosenvale Stonebarrow Tamberlane Underhill Vantongeren Wetherall Yarrowby Zelenkova Ashgrove Brackenridge Coldwater Dovecote Elderfield Fernhollow Goldfinch Hawkstone Ironwood Juniperson Kestrelby Lindenmark Moorhouse Nightjar Oakhanger'.split(
    ' ',
  );
const STRAINING: [string | null, string | null][] = [
  ['李', '星雨'],
  ['Олена', 'Зоряна'],
  ['さくら', '天野'],
  ['محمد', 'النجار'],
  ['Ő', 'Å'],
  ['X', null],
  ['🌟 Stella 🌟', 'Nova'],
  ['Maximiliana Theodora Bartholomea', 'von Hohenstaufen-Wintermantel zu Sternberg und Mondschein'],
  ["D'Arcy", "O'Shaughnessy-Ní Fhloinn"],
  ['Zoë-Renée', 'Đặng Thị Ánh Nguyệt'],
  ['Łukasz', 'Wójcik-Brzęczyszczykiewicz'],
  ['Σοφία', 'Αστερίου'],
];

/** Mountain first; then pacific, central, eastern, Arizona and codes that span zones. */
const AREA_CODES =
  '719 720 303 970 505 801 435 575 307 602 480 520 928 206 503 541 775 213 415 512 915 312 620 308 605 850 305 212 617 404 405 410 860 270'.split(
    ' ',
  );

export interface DemoPerson {
  number: string;
  firstName: string | null;
  lastName: string | null;
  /** Given on paper; null: none. */
  email: string | null;
}

/** Numbers kept free: for the program's own senders, for people who try things, and those that always fail. */
const KEPT =
  /^\+1(719555011\d|505555011\d|801555011\d|30355501[4-9]\d|720555017\d|72055501[89]\d|307555019\d)$/;

export function makePeople(count: number, chance: () => number): DemoPerson[] {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!;
  const numbers = AREA_CODES.flatMap((code) =>
    Array.from({ length: 100 }, (_, i) => `+1${code}5550${100 + i}`),
  ).filter((number) => !KEPT.test(number));
  shuffle(numbers, chance);
  return numbers.slice(0, count).map((number, i) => {
    const straining = STRAINING[i];
    if (straining) return { number, firstName: straining[0], lastName: straining[1], email: null };
    // One in six is known by number only: they texted a keyword.
    if (chance() < 0.16) return { number, firstName: null, lastName: null, email: null };
    const firstName = pick(FIRST);
    const lastName = chance() < 0.12 ? null : pick(LAST);
    return { number, firstName, lastName, email: emailOf(firstName, lastName, i) };
  });
}

/** One in two gave an address; a few of those gave one that is wrong, or full since. */
function emailOf(firstName: string, lastName: string | null, i: number): string | null {
  if (i % 2 === 1) return null;
  const name = [firstName, lastName ?? '', i].join('.').normalize('NFD').toLowerCase();
  const local = name.replace(/[^a-z0-9.]/g, '').replace(/\.{2,}/g, '.');
  const begins = i % 90 === 0 ? 'nobody.' : i % 130 === 0 ? 'full.' : '';
  return `${begins}${local.replace(/^\./, '')}@example.org`;
}

function shuffle<T>(list: T[], chance: () => number): void {
  for (let i = list.length - 1; i > 0; i--) {
    const j = Math.floor(chance() * (i + 1));
    [list[i], list[j]] = [list[j]!, list[i]!];
  }
}
