/** Credits for a voicemail, before the account says its own price. */
export const USUAL_VOICEMAIL_PRICE = 4;

/** What an account says of itself. */
export interface VoicemailReport {
  name: string;
  state: 'open' | 'closed';
  /** Credits for a voicemail. */
  price: number;
}
