/** What is wrong and what to do: under its field, or for a whole form with a rule beside it. Nothing where nothing is. */
export function Problem({ children, wide = false }: { children: string | null | undefined; wide?: boolean }) {
  if (!children) return null;
  return (
    <p role="alert" className={wide ? 'mb-3 border-l-2 border-bad pl-3 text-bad' : 'mt-1 text-sm text-bad'}>
      {children}
    </p>
  );
}
