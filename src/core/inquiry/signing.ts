/** How a sender signs: not at all, as Standard Webhooks has it, or with an HMAC-SHA256 of the body in a header of theirs. */
export type Signing = 'nothing' | 'standard' | 'header';

export const SIGNING_WORDS: Record<Signing, string> = {
  nothing: 'not signed: whoever knows the address is believed',
  standard: 'as Standard Webhooks has it',
  header: 'an HMAC-SHA256 of the body, in a header of theirs',
};
