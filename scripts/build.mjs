// Bundles the worker, the test bench and the commands into dist/. `node scripts/build.mjs` or from start.mjs.
import { build } from 'esbuild';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));

export async function buildProcesses(outdir = `${root}dist`) {
  await build({
    absWorkingDir: root,
    entryPoints: {
      worker: 'src/worker/main.ts',
      web: 'src/web/main.ts',
      'xlsx-thread': 'src/gateways/files/xlsx-thread.ts',
      'heic-thread': 'src/gateways/media/heic-thread.ts',
      bench: 'src/standins/main.ts',
      migrate: 'src/commands/migrate.ts',
      demo: 'src/commands/demo.ts',
      'make-demo': 'src/commands/make-demo.ts',
      'api-key': 'src/commands/api-key.ts',
      'check-consent': 'src/commands/check-consent.ts',
      restored: 'src/commands/restored.ts',
      'first-door': 'src/commands/first-door.ts',
      operate: 'src/commands/operate.ts',
    },
    outdir,
    bundle: true,
    packages: 'external',
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    logLevel: 'warning',
  });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildProcesses();
