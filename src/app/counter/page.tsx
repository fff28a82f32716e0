import type { Metadata } from 'next';
import { requireSession } from '../session';
import { signOutAction } from '../sign-in/actions';

export const metadata: Metadata = { title: 'Counter' };

export default async function CounterPage() {
  const session = await requireSession();
  return (
    <main id="main" className="mx-auto max-w-md px-6 py-10">
      <h1 className="mb-2">Counter</h1>
      <p className="mb-6 border-l-2 border-rule pl-4 text-soft">
        Vouchers will be checked and redeemed here, {session.name.split(' ')[0]}. There is nothing to do yet.
      </p>
      <form action={signOutAction}>
        <button className="button">Sign out</button>
      </form>
    </main>
  );
}
