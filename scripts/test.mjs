// `npm test`: everything from a clean clone. Stops at the first step that fails; ends with one line of counts.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureCluster, findChromium, installPackages, root, Sorry } from './places.mjs';

const bin = (name) => join(root, 'node_modules/.bin', name);
const started = Date.now();
const counts = { passed: 0, failed: 0 };

function step(name, command, args, env = {}) {
  const from = Date.now();
  const { status } = spawnSync(command, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', ...env },
  });
  return ended(name, status, from);
}

function ended(name, status, from) {
  console.log(`${status === 0 ? 'ok  ' : 'FAIL'} ${name} (${Math.round((Date.now() - from) / 1000)} s)`);
  return status === 0;
}

/** A long step that runs beside others; what it says is shown when it is waited for. */
function beside(name, command, args) {
  const from = Date.now();
  const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
  const said = [];
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => said.push(chunk));
  const closed = new Promise((resolve) => child.once('close', resolve));
  return async () => {
    const status = await closed;
    process.stdout.write(Buffer.concat(said));
    return ended(name, status, from);
  };
}

/** Runs projects of tests beside each other and adds their counts. */
function tests(projects, env) {
  const [project] = projects;
  const report = join(root, `.data/test/${project}.json`);
  const good = step(
    `${project} tests`,
    bin('vitest'),
    [
      'run',
      ...projects.map((one) => `--project=${one}`),
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ],
    env,
  );
  if (!existsSync(report)) return false;
  const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(report, 'utf8'));
  counts.passed += numPassedTests;
  counts.failed += numFailedTests;
  return good;
}

/** Debian's Chromium, which the end-to-end tests drive. */
function ensureChromium() {
  if (findChromium()) return;
  if (process.getuid() !== 0)
    throw new Sorry(
      "Chromium is not installed. Install Debian's package 'chromium-headless-shell' (apt-get install chromium-headless-shell), or set CHROMIUM to its path.",
    );
  console.log("Installing Chromium from Debian's packages ...");
  execFileSync(
    'bash',
    [
      '-c',
      'apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium-headless-shell',
    ],
    { stdio: ['ignore', 'ignore', 'inherit'] },
  );
}

try {
  installPackages();
  ensureChromium();
  mkdirSync(join(root, '.data/test'), { recursive: true });
  const cluster = ensureCluster(join(root, '.data/test'), 'fast', 5480);
  const env = { WREN_TEST_CLUSTER: cluster };
  const typed = step('types of routes', bin('next'), ['typegen']);
  const linted = beside('lint', bin('oxlint'), ['--deny-warnings']);
  const good =
    typed &&
    step('format', bin('oxfmt'), ['--check', '.']) &&
    // The compiler that was written anew: eight times quicker. Others still need the one before it.
    step('types', process.execPath, ['node_modules/typescript-native/bin/tsc', '--noEmit']) &&
    step('boundaries and cycles', bin('depcruise'), ['src', '--config', '.dependency-cruiser.cjs']) &&
    step('circles between rooms', bin('depcruise'), ['src', '--config', '.dependency-cruiser.rooms.cjs']) &&
    step('unused code', bin('knip'), []) &&
    (await linted()) &&
    tests(['unit'], env) &&
    tests(['ui', 'ui-mocked'], env) &&
    tests(['db'], env) &&
    step('build', process.execPath, ['scripts/start.mjs', '--build-only']) &&
    tests(['e2e'], env);
  execFileSync('bash', [join(root, 'scripts/postgres.sh'), 'stop', join(root, '.data/test/db')], {
    stdio: 'ignore',
  });
  console.log(`Finished in ${Math.round((Date.now() - started) / 1000)} s.`);
  if (!good && counts.failed === 0) counts.failed = 1;
  console.log(`${counts.passed} passed, ${counts.failed} failed`);
  process.exitCode = good ? 0 : 1;
} catch (error) {
  console.error(error instanceof Sorry ? error.message : error);
  process.exitCode = 1;
}
