import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { sessionByPassword } from '../session';
import { signInAction } from './actions';
import { SignInForm } from './sign-in-form';

export const metadata: Metadata = { title: 'Sign in' };

export default async function SignInPage() {
  if (await sessionByPassword()) redirect('/');
  return (
    <main id="main" className="mx-auto grid min-h-screen max-w-md content-center px-6 py-10">
      <h1 className="mb-1">Steady Wren</h1>
      <p className="mb-6 border-b border-rule pb-3 text-soft">
        See everything that will be sent before it goes, and be able to explain everything that went.
      </p>
      <SignInForm action={signInAction} />
    </main>
  );
}
