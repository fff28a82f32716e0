import unhomoglyph from 'unhomoglyph';

/**
 * A reply in its plainest dress: compatibility forms folded (NFKC), lower case, accents gone, apostrophes
 * dropped (`don't` -> `dont`), everything that is neither letter nor digit a single space.
 */
export function plain(body: string): string {
  return (
    body
      .normalize('NFKC')
      .toLowerCase()
      // A sign that stands for a letter, as people disguise words; before digits it is money.
      .replace(/\$(?=\p{L}{2})/gu, 's')
      .replace(/[\u2018\u2019\u201b\u02bc'`\u00b4\u200b-\u200d\u2060\ufeff\u00ad]/g, '')
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .trim()
  );
}

/** Capitals as small as small letters, which small letters of other scripts look like too, and what they are. */
const SMALL_CAPITALS = new Map(
  [...'ᴀʙᴄᴅᴇꜰɢʜɪᴊᴋʟᴍɴᴏᴘʀꜱᴛᴜᴠᴡʏᴢĸʍ'].map((one, i) => [one, 'abcdefghijklmnoprstuvwyzkm'[i]!]),
);
const ANY_SMALL_CAPITAL = new RegExp(`[${[...SMALL_CAPITALS.keys()].join('')}]`, 'gu');

const looksLike = (letters: string): string =>
  unhomoglyph(letters).replace(ANY_SMALL_CAPITAL, (one) => SMALL_CAPITALS.get(one)!);

/** The same with letters of other scripts that look Latin read as Latin: `ЅТОР` and `ѕтор` -> `stop`. */
export function plainLatin(body: string): string {
  const folded = plain(body);
  // Only what is not Latin is read as what it looks like: by itself the function would read m as rn.
  return /[^\u0000-\u007f]/.test(folded)
    ? plain(body.normalize('NFKC').replace(/[^\u0000-\u007f]+/g, looksLike))
    : folded;
}

/** `s t o p` -> `stop`: single letters with spaces between are one word. Null when it is not that. */
export function joinSpelled(text: string): string | null {
  return /^(\p{L} ){2,}\p{L}$/u.test(text) ? text.replaceAll(' ', '') : null;
}

/** `stooop`, `stopp` -> `stop`: runs of one letter cut to one. */
export const squeeze = (text: string): string => text.replace(/(\p{L})\1+/gu, '$1');
