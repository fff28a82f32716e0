import { OF_ERASED } from '@/db/kit/erasure';

/** What is counted about them for conditions. */
export const AUDIENCE_ERASURES = [`delete from engagement where ${OF_ERASED}`];
