import type { HappeningKind } from '@/core/happening/kinds';
import { wantHappenings } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';

/** Under this name sequences remember how far they have followed what happens. */
export const FOLLOWER = 'sequences';

export const FOLLOWED: readonly HappeningKind[] = [
  ...(['program.joined', 'program.left', 'tag.put', 'list.put', 'stage.changed', 'person.changed'] as const),
  ...(['reply.received', 'link.clicked', 'voucher.redeemed', 'sequence.ended'] as const),
  ...(['keyword.heard', 'form.filled', 'inquiry.received', 'voucher.expiring'] as const),
];

/** Replies and the like are told only where somebody said that they want them. */
export const wantSequences = (scope: Scope): Promise<number> => wantHappenings(scope, FOLLOWER, FOLLOWED);
