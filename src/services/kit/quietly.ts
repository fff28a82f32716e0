/** Work that is waited for later, or by nobody: that it fails is heard by whoever waits. */
export function quietly<T>(work: Promise<T>): Promise<T> {
  work.catch(() => undefined);
  return work;
}
