// `npm run bench`: one JSON line per benchmark, ratios measured in this run. Uses its own cluster, with fsync on.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureCluster, installPackages, root, Sorry } from './places.mjs';

try {
  installPackages();
  spawnSync(process.execPath, ['scripts/start.mjs', '--build-only'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const dataDir = join(root, '.data/bench');
  const cluster = ensureCluster(dataDir, 'safe', 5500);
  const { status } = spawnSync(
    process.execPath,
    ['--import', 'tsx', 'bench/main.ts', ...process.argv.slice(2)],
    {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, WREN_TEST_CLUSTER: cluster },
    },
  );
  spawnSync('bash', ['scripts/postgres.sh', 'stop', join(dataDir, 'db')], { cwd: root });
  process.exitCode = status ?? 1;
} catch (error) {
  console.error(error instanceof Sorry ? error.message : error);
  process.exitCode = 1;
}
