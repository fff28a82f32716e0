/** A place: its heading, the wide main column, and the margin that holds the consequence of what is done there. */
export function Page({
  title,
  actions,
  margin,
  children,
}: {
  title: React.ReactNode;
  actions?: React.ReactNode;
  margin?: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <h1>{title}</h1>
        <div className="flex flex-wrap gap-2">{actions}</div>
      </div>
      <div className={margin ? 'grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_20rem]' : ''}>
        <div className="min-w-0">{children}</div>
        {margin && (
          <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
            {margin}
          </aside>
        )}
      </div>
    </main>
  );
}

/** A titled block. */
export function Section({
  title,
  note,
  children,
}: {
  title: string;
  note?: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <section className="mb-7">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4 border-b border-rule">
        <h2 className="border-0">{title}</h2>
        {note && <span className="text-soft text-sm">{note}</span>}
      </div>
      {children}
    </section>
  );
}

/** What to do first where there is nothing yet. */
export function Empty({ children }: { children: React.ReactNode }) {
  return <p className="border-l-2 border-rule py-2 pl-4 text-soft">{children}</p>;
}

/** Names and values, one ruled line each. */
export function Facts({ rows }: { rows: [name: string, value: React.ReactNode][] }) {
  return (
    <dl>
      {rows.map(([name, value]) => (
        <div key={name} className="flex items-baseline justify-between gap-4 border-b border-rule py-1.5">
          <dt className="text-soft">{name}</dt>
          <dd className="text-right [overflow-wrap:anywhere]">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
