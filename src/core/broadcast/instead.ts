import type { Clearance } from '../clearance/clear';
import type { ReasonCode } from '../clearance/reasons';

/** What goes by e-mail to who cannot be texted. Unicode MessageFormat 2. */
export interface Instead {
  subject: string;
  body: string;
}

/** Reasons that speak against texting somebody, and say nothing of a letter to them. */
const OF_TEXTS: ReadonlySet<ReasonCode> = new Set<ReasonCode>([
  ...(['number-missing', 'number-gone', 'landline', 'no-consent'] as const),
  ...(['opted-out', 'consent-pending', 'consent-lapsed', 'inquiry-only', 'inquiry-over'] as const),
]);

/**
 * Whether somebody who gets no text may be asked about for a letter. What concerns the message itself (the same words
 * again, a field that is empty, a program that is over) stands in the way of both.
 */
export const mayGetLetter = ({ verdict, reasons }: Pick<Clearance, 'verdict' | 'reasons'>): boolean =>
  verdict === 'blocked' &&
  reasons.filter(({ effect }) => effect === 'block').every(({ code }) => OF_TEXTS.has(code));
