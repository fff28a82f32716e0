// Runs a command of dist/ against the database the application uses: `node scripts/run-command.mjs api-key --workspace x`.
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ensureCluster, readSettings, root, Sorry } from './places.mjs';

try {
  const [command, ...args] = process.argv.slice(2);
  const settings = readSettings();
  if (!existsSync(join(root, `dist/${command}.js`)))
    throw new Sorry('Run `npm start` once first: it builds the commands.');
  const env = {
    ...process.env,
    DATABASE_URL: settings.databaseUrl ?? ensureCluster(settings.dataDir),
    WREN_DATA_DIR: settings.dataDir,
  };
  execFileSync(process.execPath, [join(root, `dist/${command}.js`), ...args], { env, stdio: 'inherit' });
} catch (error) {
  if (error instanceof Sorry) console.error(error.message);
  process.exitCode = 1;
}
