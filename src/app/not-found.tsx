import { Link } from '@/ui/kit/link';

export default function NotFound() {
  return (
    <main id="main" className="mx-auto max-w-md px-6 py-16">
      <h1 className="mb-2">Nothing here</h1>
      <p className="mb-4 text-soft">It was removed, or it belongs to another workspace.</p>
      <Link href="/" className="link">
        Back to Today
      </Link>
    </main>
  );
}
