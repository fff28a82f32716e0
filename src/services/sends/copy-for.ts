/** Whom a copy is for: the same people, those who did not get it, or those who got it and did not answer. */
export const COPY_FOR = ['same', 'not-got', 'not-answered'] as const;
export type CopyFor = (typeof COPY_FOR)[number];
