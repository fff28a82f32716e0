import { DAY, SECOND } from '@/core/shared/instant';

/** How fast a day of a trial may pass: so many seconds of the clock. */
export const PACES = [10, 60, 600, DAY / SECOND] as const;
