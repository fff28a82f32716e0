// Where things are and which settings hold, for the start command and the tests. No packages: this runs first.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

export class Sorry extends Error {}

const port = (name, fallback) => {
  const text = process.env[name];
  if (!text) return fallback;
  if (!/^\d+$/.test(text) || Number(text) < 1 || Number(text) > 65535)
    throw new Sorry(`${name} must be a port between 1 and 65535, not "${text}".`);
  return Number(text);
};

export function readSettings() {
  return {
    webPort: port('PORT', 4400),
    benchPort: port('WREN_BENCH_PORT', 4401),
    smppPort: port('WREN_SMPP_PORT', process.env.WREN_SMPP_HOST ? 2775 : 4402),
    secondPort: port('WREN_SECOND_SMPP_PORT', port('WREN_BENCH_PORT', 4401) + 5),
    mailPort: port('WREN_MAIL_PORT', process.env.WREN_MAIL_HOST ? 587 : 4403),
    mailInPort: port('WREN_MAIL_IN_PORT', 4404),
    realMail: Boolean(process.env.WREN_MAIL_HOST),
    realCarrier: Boolean(process.env.WREN_SMPP_HOST),
    dataDir: process.env.WREN_DATA_DIR || join(root, '.data'),
    databaseUrl: process.env.DATABASE_URL || null,
  };
}

/** The private cluster's URL; installs PostgreSQL and starts the cluster when needed. */
export function ensureCluster(dataDir, mode = 'safe', firstPort = 5440) {
  try {
    return execFileSync(
      'bash',
      [join(root, 'scripts/postgres.sh'), 'ensure', join(dataDir, 'db'), String(firstPort), mode],
      {
        encoding: 'utf8',
        stdio: ['ignore', 'pipe', 'inherit'],
      },
    ).trim();
  } catch {
    throw new Sorry('The database could not be started; the line above says why.');
  }
}

/** True when npm packages are not installed as the lockfile says. */
export function packagesMissing() {
  const stamp = join(root, 'node_modules/.package-lock.json');
  return !existsSync(stamp) || statSync(join(root, 'package-lock.json')).mtimeMs > statSync(stamp).mtimeMs;
}

export function installPackages() {
  if (!packagesMissing()) return;
  console.log('Installing npm packages from the lockfile ...');
  try {
    execFileSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit'],
    });
  } catch {
    throw new Sorry(
      'npm ci failed; the lines above say why. The npm registry must be reachable for the first start.',
    );
  }
}

const SOURCES = [
  'src',
  'scripts/build.mjs',
  'package-lock.json',
  'next.config.ts',
  'postcss.config.mjs',
  'tsconfig.json',
];

/** One hash over everything a build is made from: a build with the same stamp need not be made again. */
export function sourceStamp() {
  const hash = createHash('sha256');
  const add = (path) => {
    const full = join(root, path);
    if (statSync(full).isDirectory()) for (const name of readdirSync(full).sort()) add(join(path, name));
    else hash.update(path).update('\0').update(readFileSync(full));
  };
  for (const path of SOURCES) add(path);
  return hash.digest('hex');
}
