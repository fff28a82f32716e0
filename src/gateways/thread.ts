import { existsSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { Worker, type WorkerOptions } from 'node:worker_threads';

/**
 * A thread of its own for work that must not hold up or bring down this process. `name`: the file that is built beside the
 * program that runs; `source`: the address of its source, which the tests run. Addresses are put together as words, since
 * the web's bundler takes everything else for a file to bring along.
 */
export function startThread(name: string, source: string, options: WorkerOptions): Worker {
  const built = new URL(`./${name}.js`, pathToFileURL(process.argv[1]!));
  if (existsSync(built)) return new Worker(built, options);
  // A thread needs the loader of its own.
  const code = `import('tsx/esm/api').then(({ register }) => (register(), import(${JSON.stringify(source)})))`;
  return new Worker(code, { ...options, eval: true });
}

/** The address of a file that lies beside another. */
export const beside = (module: string, file: string): string => module.replace(/[^/]*$/, file);
