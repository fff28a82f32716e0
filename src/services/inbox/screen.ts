import type { Scope } from '@/db/kit/scope';
import { waitingThreads } from '@/db/inbox/threads';

export const readThreads = (scope: Scope) => waitingThreads(scope, { most: 200, asking: false });
