/**
 * The id a carrier gives a text in its answer comes back with the receipt, but not always as it was: SMPP 3.4 leaves its form
 * to the carrier, and many answer in hexadecimal and tell receipts in decimal, padded with zeros, or the other way round.
 */

/** How a receipt says the id that stood in the answer. */
export type ReceiptIds = 'the same' | 'decimal of hexadecimal' | 'hexadecimal of decimal';
export const RECEIPT_IDS: readonly ReceiptIds[] = [
  'the same',
  'decimal of hexadecimal',
  'hexadecimal of decimal',
];

/** One spelling of an id: numbers lose leading zeros and capital letters, anything else stays as it is. */
export function sameId(id: string): string {
  const text = id.trim();
  return /^[0-9a-f]+$/i.test(text) ? text.toLowerCase().replace(/^0+(?=.)/, '') : text;
}

/** The id of the answer, of the one a receipt tells; null: a receipt that tells ids in this way cannot tell this one. */
export function answeredId(told: string, ids: ReceiptIds): string | null {
  const id = sameId(told);
  switch (ids) {
    case 'the same':
      return id;
    case 'decimal of hexadecimal':
      return /^\d+$/.test(id) ? BigInt(id).toString(16) : null;
    case 'hexadecimal of decimal':
      return /^[0-9a-f]+$/.test(id) ? BigInt(`0x${id}`).toString(10) : null;
  }
}

/** Longer numbers than any carrier counts in are names. */
const LONGEST = 40;

/** What the id of a receipt may mean, where the carrier's way is not known: as it is first. */
export function meaningsOf(told: string): { ids: ReceiptIds; id: string }[] {
  const ways = told.length > LONGEST ? RECEIPT_IDS.slice(0, 1) : RECEIPT_IDS;
  const meanings = ways.flatMap((ids) => {
    const id = answeredId(told, ids);
    return id === null ? [] : [{ ids, id }];
  });
  return meanings.filter(({ id }, i) => meanings.findIndex((other) => other.id === id) === i);
}
