export default function Loading() {
  return (
    <main id="main" className="mx-auto max-w-[1240px] px-6 py-5" aria-busy="true">
      <p role="status" className="text-soft">
        Reading …
      </p>
    </main>
  );
}
