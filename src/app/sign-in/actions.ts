'use server';
import { cutText } from '@/core/shared/clean-text';
import { revalidatePath } from 'next/cache';
import { cookies } from 'next/headers';
import { redirect } from 'next/navigation';
import { getContext } from '@/services/runtime';
import {
  SIGN_IN_WORDS,
  type SignInRefusal,
  signIn,
  signOut,
  switchWorkspace,
} from '@/services/access/sessions';
import { field } from '../(app)/form-result';
import type { FormState } from '@/ui/kit/form-state';
import { keepSession, originOf } from '../open-session';
import { COOKIE } from '../session';

export async function signInAction(_: FormState, data: FormData): Promise<FormState> {
  const email = cutText(field(data, 'email'), 200);
  const password = cutText(field(data, 'password'), 500);
  const code = cutText(field(data, 'code'), 40);
  const signedIn = await signIn(await getContext(), email, password, await originOf(), null, code);
  if (!signedIn.ok)
    return {
      problems: [
        { field: codeOf(signedIn.reason) ? 'code' : 'sign-in', message: SIGN_IN_WORDS[signedIn.reason] },
      ],
      values: { email, ...(codeOf(signedIn.reason) ? { asks: 'code' } : {}) },
      done: null,
    };
  await keepSession(signedIn.value);
  redirect('/');
}

const codeOf = (reason: SignInRefusal): boolean => reason === 'code' || reason === 'wrong-code';

async function endSession(everywhere: boolean): Promise<void> {
  const jar = await cookies();
  const token = jar.get(COOKIE)?.value;
  if (token) await signOut(await getContext(), token, everywhere);
  jar.delete(COOKIE);
  redirect('/sign-in');
}

export async function signOutAction(): Promise<void> {
  await endSession(false);
}

export async function signOutEverywhereAction(): Promise<void> {
  await endSession(true);
}

export async function switchWorkspaceAction(data: FormData): Promise<void> {
  const token = (await cookies()).get(COOKIE)?.value;
  if (token) await switchWorkspace(await getContext(), token, field(data, 'workspace'));
  // The frame of every page names the workspace, and the browser keeps it.
  revalidatePath('/', 'layout');
  redirect('/');
}

export async function themeAction(theme: 'light' | 'dark' | 'system'): Promise<void> {
  const jar = await cookies();
  if (theme === 'system') jar.delete('wren_theme');
  else jar.set('wren_theme', theme, { sameSite: 'lax', path: '/', maxAge: 365 * 86_400 });
}
