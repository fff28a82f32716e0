import { DAY, type Millis } from '../shared/instant';

/** Time pressed together: a day of the sequence passes in `dayMs`, both counted from the same beginning. */
export interface Pace {
  began: Millis;
  dayMs: Millis;
}

/** The instant of the sequence at which a real one lies. */
export const pretendedAt = ({ began, dayMs }: Pace, real: Millis): Millis =>
  began + Math.round(((real - began) * DAY) / dayMs);

/** The real instant at which an instant of the sequence comes. */
export const realAt = ({ began, dayMs }: Pace, pretended: Millis): Millis =>
  began + Math.ceil(((pretended - began) * dayMs) / DAY);
