// Where things are and which settings hold, for the start command and the tests. No packages: this runs first.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
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

/**
 * Where the browser of the end-to-end tests is, Debian's Chromium: the one without a window if it is there, which does the same
 * with a fifth less work. Null: neither is.
 */
export function findChromium() {
  const { CHROMIUM: chosen } = process.env;
  const at = chosen ? [chosen] : ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];
  return at.find((path) => existsSync(path)) ?? null;
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

/** What a folder that cannot be written to means, by the code of the system. */
const FOLDER_WORDS = {
  EACCES: 'this user may not write there',
  EPERM: 'this user may not write there',
  EROFS: 'that disk can only be read',
  ENOSPC: 'the disk is full',
  EDQUOT: 'the disk is full for this user',
  ENOTDIR: 'a part of that path is a file',
  EEXIST: 'there is a file of that name',
  ENOENT: 'no folder can be made there',
};

/**
 * A folder and those above it. Level by level: Node's own way of making several at once never ends where a file system says
 * of one that is there that it is not, as `/proc` does.
 */
function makeLevels(path) {
  if (existsSync(path)) return;
  makeLevels(dirname(path));
  mkdirSync(path);
}

/** A folder that is there and can be written to; a sentence where it cannot be. */
export function makeFolder(path, name) {
  try {
    makeLevels(path);
    const probe = join(path, `.probe-${process.pid}`);
    // Of some size: a full disk takes an empty file.
    writeFileSync(probe, Buffer.alloc(64 * 1024));
    rmSync(probe);
  } catch (error) {
    const why = FOLDER_WORDS[error.code] ?? error.message;
    throw new Sorry(`The folder ${path} cannot be used: ${why}. Set ${name} to another.`);
  }
}

/** What the database says when it lets nobody in, by its code. */
const DATABASE_WORDS = {
  '28P01': 'refuses the password of that user. Check DATABASE_URL.',
  28000: 'does not let that user in from here. Check DATABASE_URL, and pg_hba.conf of the server.',
  '3D000': 'has no database of that name. Make it (createdb), or check DATABASE_URL.',
  53300: 'has no connection left. Raise max_connections, or set WREN_DB_CONNECTIONS lower.',
  '57P03': 'is still starting. Try again in a moment.',
  53100: 'has no room left on its disk.',
};

/** Signs in once, so that what is wrong is said in a sentence before anything is started. */
export async function tryDatabase(url) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 8_000 });
  client.on('error', () => {});
  const { hostname, port } = new URL(url);
  const where = `The database at ${hostname}:${port || 5432}`;
  try {
    await client.connect();
    const { rows } = await client.query('select current_setting($1)::int as version', ['server_version_num']);
    if (rows[0].version < 150000)
      throw new Sorry(
        `${where} is PostgreSQL ${Math.floor(rows[0].version / 10000)}. It has to be 15 or newer.`,
      );
  } catch (error) {
    if (error instanceof Sorry) throw error;
    const words = DATABASE_WORDS[error.code];
    if (words) throw new Sorry(`${where} ${words}`);
    throw new Sorry(
      `${where} does not answer as PostgreSQL does (${error.message}). Check the host and the port in DATABASE_URL.`,
    );
  } finally {
    await client.end().catch(() => {});
  }
}

/** Whether a process of this id is a start command of ours. */
function isStarter(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch {
    return false;
  }
}

/** One start command for each data folder: a second one would stop the first one's database on leaving. */
export function claimFolder(dataDir) {
  const file = join(dataDir, 'start.pid');
  const other = existsSync(file) ? Number(readFileSync(file, 'utf8')) : 0;
  if (other > 0 && other !== process.pid && isStarter(other))
    throw new Sorry(
      `Steady Wren runs already with the folder ${dataDir} (process ${other}). Stop that, or set WREN_DATA_DIR to another folder.`,
    );
  writeFileSync(file, String(process.pid));
  return () => {
    if (existsSync(file) && Number(readFileSync(file, 'utf8')) === process.pid) rmSync(file);
  };
}
