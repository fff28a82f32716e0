// Makes the demo again: a scratch database and test bench, the story, the compressed file. Takes some minutes.
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildProcesses } from './build.mjs';
import { ensureCluster, root } from './places.mjs';
import { createDatabase, dropDatabase } from './scratch.mjs';

await buildProcesses();
const cluster = ensureCluster(join(root, '.data/test'), 'fast', 5480);
const name = `demo_${process.pid}`;
const dataDir = mkdtempSync(join(tmpdir(), 'wren-demo-'));
const env = {
  ...process.env,
  DATABASE_URL: await createDatabase(cluster, name),
  WREN_DATA_DIR: dataDir,
  WREN_BENCH_PORT: '4471',
  WREN_SMPP_PORT: '4472',
  WREN_MAIL_PORT: '4473',
  WREN_MAIL_IN_PORT: '4474',
  WREN_MM7_BACK: 'http://127.0.0.1:4475/mm7/bench',
  WREN_CHAT_BACK: 'http://127.0.0.1:4475',
  WREN_VOICEMAIL_BACK: 'http://127.0.0.1:4475',
  WREN_REGISTRAR_BACK: 'http://127.0.0.1:4475',
};
const bench = spawn(process.execPath, [join(root, 'dist/bench.js')], {
  env,
  stdio: ['ignore', 'pipe', 'inherit'],
});
try {
  await new Promise((resolve) => bench.stdout.once('data', resolve));
  execFileSync(process.execPath, [join(root, 'dist/make-demo.js'), join(root, 'demo/juniper-gap.jsonl.br')], {
    env,
    stdio: 'inherit',
  });
  // What the bench’s chat network and registrar know belongs to the story: the application remembers what they said.
  for (const whose of ['chat', 'registrar']) {
    const book = await (await fetch(`http://127.0.0.1:4471/${whose}/book`)).json();
    writeFileSync(join(root, `demo/bench-${whose}.json`), `${JSON.stringify(book, null, 1)}\n`);
  }
} finally {
  bench.kill();
  await dropDatabase(cluster, name);
  rmSync(dataDir, { recursive: true, force: true });
}
