'use client';

export default function AppError({ reset }: { error: Error; reset: () => void }) {
  return (
    <main id="main" className="mx-auto max-w-md px-6 py-16">
      <h1 className="mb-2">This page could not be read</h1>
      <p className="mb-4 text-soft">Nothing was changed. The database may be away for a moment.</p>
      <button className="button button-main" onClick={reset}>
        Try again
      </button>
    </main>
  );
}
