/**
 * What is costly to make and not always wanted: made when it is first asked for, and the same from then on. A failure is not kept.
 */
export function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null;
  return () => (made ??= { value: make() }).value;
}

/** The same of what takes its time: one that failed is tried again by who asks next. */
export function onceLoaded<T>(load: () => Promise<T>): () => Promise<T> {
  let loading: Promise<T> | null = null;
  return () =>
    (loading ??= load().catch((error: unknown) => {
      loading = null;
      throw error;
    }));
}
