import { interpret, type Interpretation } from '@/core/reply/interpret';
import type { Scope } from '@/db/kit/scope';
import { heardKeywords } from '@/services/programs/heard-keywords';

/** How a reply would be understood, with the workspace's keywords. Writes nothing. */
export const interpretText = async (scope: Scope, body: string): Promise<Interpretation> =>
  interpret(body, { ...(await heardKeywords(scope, null)), questionPending: false });
