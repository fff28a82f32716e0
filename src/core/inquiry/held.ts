/** Why nothing is sent by itself to somebody who asked. */
export type InquiryHeld = 'opted-out' | 'no-texts';

export const HELD_WORDS: Record<InquiryHeld, { mark: string; why: string }> = {
  'opted-out': { mark: 'had opted out', why: 'They had opted out' },
  'no-texts': { mark: 'asks for no texts', why: 'What they wrote may mean that they want no texts' },
};
