import { cookies } from 'next/headers';
import { redirect } from 'next/navigation';
import { cache } from 'react';
import { may, type Permission } from '@/core/access/roles';
import { refusalOf } from '@/services/kit/database-refusal';
import { markOf } from '@/services/kit/live';
import { countPress, rememberAnswer } from '@/services/kit/press';
import { getContext } from '@/services/runtime';
import { withWorkspace } from '@/services/runtime';
import type { Scope } from '@/services/kit/scope';
import { readSession, type SignedIn } from '@/services/access/sessions';
import type { Refusal } from '@/services/kit/validation';
import type { Result } from '@/core/shared/result';

export const COOKIE = 'wren_session';

/** Whose password it was; what is beyond it may still be closed to them. Asked once per request. */
export const sessionByPassword = cache(async (): Promise<SignedIn | null> => {
  const token = (await cookies()).get(COOKIE)?.value;
  return token ? readSession(await getContext(), token) : null;
});

/** Who is signed in; null also for an owner who still has to set up a second factor. */
export async function currentSession(): Promise<SignedIn | null> {
  const session = await sessionByPassword();
  return session?.needsFactor ? null : session;
}

/** Where the changes of a workspace stood before anything was read for this request. */
export const standing = cache(markOf);

/** Who is signed in, or the page at which that goes on. */
export async function requireSession(): Promise<SignedIn> {
  const session = (await sessionByPassword()) ?? redirect('/sign-in');
  if (session.needsFactor) redirect('/second-factor');
  await standing(session.workspaceId);
  return session;
}

export const NOT_ALLOWED = 'Your role does not allow this. Ask an owner or a manager.';

/** Reads of a screen, in the workspace of who is signed in. A counter helper sees no people. */
export async function readScreen<T>(
  read: (scope: Scope, session: SignedIn, now: number) => Promise<T>,
): Promise<{ data: T; session: SignedIn; now: number }> {
  const session = await requireSession();
  if (!may(session.role, 'read')) redirect('/counter');
  const now = (await getContext()).now();
  return {
    data: await withWorkspace(session.workspaceId, (scope) => read(scope, session, now)),
    session,
    now,
  };
}

/** Raised inside a transaction so that a refused change is rolled back whole. */
class Refused extends Error {
  constructor(readonly refusal: Refusal) {
    super('refused');
  }
}

/**
 * A change by who is signed in: the role is checked, and a refusal undoes everything. With a `press` it counts once:
 * pressed again it gives the answer of the first time, of which only the id and the name are kept.
 */
export async function change<T>(
  permission: Permission,
  work: (
    scope: Scope,
    session: SignedIn,
    ctx: Awaited<ReturnType<typeof getContext>>,
  ) => Promise<Result<T, Refusal>>,
  press: string | null = null,
): Promise<Result<T, Refusal>> {
  const session = await requireSession();
  if (!may(session.role, permission))
    return { ok: false, reason: { code: 'forbidden', problems: [{ field: 'role', message: NOT_ALLOWED }] } };
  const ctx = await getContext();
  try {
    return await withWorkspace(session.workspaceId, async (scope) => {
      const pressed = press === null ? null : await countPress(ctx, scope, press);
      if (pressed && !pressed.first) return { ok: true, value: pressed.answer as T };
      const result = await work(scope, session, ctx);
      if (!result.ok) throw new Refused(result.reason);
      if (press !== null) await rememberAnswer(scope, press, named(result.value));
      return result;
    });
  } catch (error) {
    if (error instanceof Refused) return { ok: false, reason: error.refusal };
    const refusal = refusalOf(error);
    if (refusal) return refusal;
    throw error;
  }
}

const named = (value: unknown): { id?: unknown; name?: unknown } | null => {
  if (typeof value !== 'object' || value === null || !('id' in value)) return null;
  const { id, name } = value as { id: unknown; name?: unknown };
  return { id, name };
};

export const actorOf = (session: SignedIn) => ({ name: session.accountId, accountId: session.accountId });
