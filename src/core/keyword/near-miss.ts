import damerau from 'talisman/metrics/damerau-levenshtein.js';

/**
 * The keywords a short reply nearly is, the nearest ones; several where it is as near to each. One slip (a letter missing, added, wrong, or two swapped)
 * for words of four to seven letters, two for longer ones; three-letter words only when two letters are
 * swapped or one is doubled, since nearly every short word is one slip from another.
 */
export function closestKeywords(text: string, keywords: readonly string[]): string[] {
  if (text.length > 40 || text.split(' ').length > 3) return [];
  let fewest = Infinity;
  const near = new Set<string>();
  for (const keyword of keywords) {
    for (const form of [text, text.replaceAll(' ', ''), ...(keyword.length >= 5 ? text.split(' ') : [])]) {
      const slips = damerau(form, keyword);
      if (slips === 0 || slips > allowed(form, keyword) || slips > fewest) continue;
      if (slips < fewest) near.clear();
      fewest = slips;
      near.add(keyword);
    }
  }
  return near.size > 0 ? [...near] : keywords.filter((keyword) => text.split(' ').includes(keyword));
}

function allowed(form: string, keyword: string): number {
  if (keyword.length >= 8) return 2;
  if (keyword.length >= 4) return 1;
  const sameLetters = [...form].sort().join('') === [...keyword].sort().join('');
  const doubled = form.replace(/(.)\1/g, '$1') === keyword;
  return sameLetters || doubled ? 1 : 0;
}
