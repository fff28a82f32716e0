import type { Readable } from 'node:stream';

/** Where the bytes of files are kept. A key is nothing that can be guessed. */
export interface MediaStore {
  put(key: string, bytes: Buffer, type: string): Promise<void>;
  /** The bytes as they come; null: there are none under this key. */
  open(key: string): Promise<Readable | null>;
  /** Forgets them; what is not there is no trouble. */
  remove(keys: readonly string[]): Promise<void>;
}
