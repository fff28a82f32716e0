/** Work that is waited for later. A failure is met there; until then it must not count as nobody's, which ends the process. */
export function quietly<T>(work: Promise<T>): Promise<T> {
  work.catch(() => undefined);
  return work;
}
