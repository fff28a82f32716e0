import { OF_ERASED } from '@/db/kit/erasure';

/** What a batch changed about them. */
export const BATCHES_ERASURES = [`update batch_person set before = null where ${OF_ERASED}`];
