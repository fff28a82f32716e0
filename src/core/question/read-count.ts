import { plain } from '../reply/normalise';

/** Words that count on from a number, each so much more than the one before. */
const counting = (from: number, words: string, by = 1): [string, number][] =>
  words.split(' ').map((word, i) => [word, from + i * by]);

const UNITS: ReadonlyMap<string, number> = new Map([
  ...counting(0, 'zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen'),
  ...counting(15, 'fifteen sixteen seventeen eighteen nineteen'),
  // What is a word of English too stands for no number: once, on.
  ...counting(2, 'dos tres cuatro cinco seis siete ocho nueve diez'),
  ...counting(2, 'deux trois quatre cinq six sept huit neuf dix'),
  ...counting(2, 'zwei drei vier funf sechs sieben acht neun zehn'),
  ...['doce', 'douze', 'zwolf'].map((word): [string, number] => [word, 12]),
  ...['veinte', 'vingt', 'zwanzig'].map((word): [string, number] => [word, 20]),
]);
const TENS: ReadonlyMap<string, number> = new Map(
  counting(20, 'twenty thirty forty fifty sixty seventy eighty ninety', 10),
);
const DOZENS = /^(?:(a|one|una|two|three|dos|tres) )?(?:dozen|docenas?|douzaine)$/;
/** Words that make another number of the one before them. */
const LARGER =
  /\b(?:hundred|thousand|million|half|halves|quarter|couple|pair|score|dozens?|cien|cientos|mil|cent|mille)\b/;

/** `me and 3 friends`, `my wife + 2`: the sum is not ours to make. */
const ADDED = /[+&]|\b(?:and|plus|with|y|con|et|avec|und|mit)\b(?! (?:thanks|thank you|gracias|merci))/i;

/** The one number in it: `about 12`, `there are four of us`, `twenty-one`, `10k`. Two of them are none, and so is what may be another. */
export function countIn(text: string): string | null {
  const bare = plain(text);
  const dozens = DOZENS.exec(bare);
  if (dozens) return String(12 * (UNITS.get(dozens[1] ?? 'one') ?? 1));
  if (LARGER.test(bare) || ADDED.test(text)) return null;
  const figures = text.match(/-?(?:\d{1,3}(?:,\d{3})+|\d+)(?:\.\d+)?(?:\s?k\b)?/gi) ?? [];
  // A point before three digits parts thousands in one country and is a fraction in another.
  if (figures.some((figure) => /^-?\d{1,3}\.\d{3}$/.test(figure))) return null;
  const [one, another] = new Set([...figures.map(thousands), ...spelled(bare)]);
  return another === undefined ? (one ?? null) : null;
}

const thousands = (figure: string): string =>
  /k$/i.test(figure) ? String(Math.round(Number(figure.replace(/[\s,k]/gi, '')) * 1_000)) : figure;

/** Numbers in words; `one` is one only where it says how many. */
function spelled(bare: string): string[] {
  if (bare === 'one' || /\bjust (?:the )?one\b|\bone of us\b/.test(bare)) return ['1'];
  const found: string[] = [];
  const words = bare.split(' ');
  for (let i = 0; i < words.length; i++) {
    const tens = TENS.get(words[i]!);
    const unit = UNITS.get(words[tens === undefined ? i : i + 1] ?? '');
    if (tens !== undefined) {
      const adds = unit !== undefined && unit > 0 && unit < 10;
      found.push(String(tens + (adds ? unit : 0)));
      if (adds) i++;
    } else if (unit !== undefined && words[i] !== 'one') found.push(String(unit));
  }
  return found;
}
