// What the processes of ours say: kept whole in files, and shown where somebody has to know.
import { closeSync, existsSync, fstatSync, openSync, renameSync, writeSync } from 'node:fs';
import { join } from 'node:path';

const LARGEST = 20 * 1024 * 1024;
const KEPT = 3;

/** A log of one process that begins anew when it is large; the last ones are kept beside it, `.1` the newest. */
class LogFile {
  constructor(path) {
    this.path = path;
    this.open();
  }
  open() {
    this.fd = openSync(this.path, 'a', 0o600);
    this.size = fstatSync(this.fd).size;
  }
  write(line) {
    const bytes = Buffer.from(`${line}\n`);
    if (this.size + bytes.length > LARGEST) this.turn();
    try {
      writeSync(this.fd, bytes);
      this.size += bytes.length;
    } catch {
      // A full disk loses lines of the log and nothing else.
    }
  }
  turn() {
    closeSync(this.fd);
    for (let i = KEPT - 1; i > 0; i--)
      if (existsSync(`${this.path}.${i}`)) renameSync(`${this.path}.${i}`, `${this.path}.${i + 1}`);
    renameSync(this.path, `${this.path}.1`);
    this.open();
  }
}

/** What is said of it on the terminal; null: nothing. `complaint`: it stood on the error output. */
function shownLine(name, line, complaint) {
  let said;
  try {
    said = JSON.parse(line);
  } catch {
    return complaint && line.trim() !== '' ? `${name}: ${line}` : null;
  }
  if (!['warn', 'error', 'fatal'].includes(said.level)) return null;
  const why = said.err?.message ? ` (${said.err.message})` : said.why ? ` (${said.why})` : '';
  const what = ['carrier', 'job', 'row'].flatMap((key) => (said[key] ? [`${key} ${said[key]}`] : []));
  return `${name}: ${said.msg ?? ''}${why}${what.length > 0 ? ` [${what.join(', ')}]` : ''}`;
}

/** Keeps every line of a process in the folder, and gives those that matter to `show`. The same line over and over is shown once a minute. */
export function keepLog(folder, name, child, show) {
  const file = new LogFile(join(folder, `${name.replace(/\W+/g, '-')}.log`));
  const shown = new Map();
  for (const stream of [child.stdout, child.stderr]) {
    let rest = '';
    stream.setEncoding('utf8');
    stream.on('data', (text) => {
      const lines = (rest + text).split('\n');
      rest = lines.pop();
      for (const line of lines) {
        file.write(line);
        const words = shownLine(name, line, stream === child.stderr);
        if (words === null || Date.now() - (shown.get(words) ?? -Infinity) < 60_000) continue;
        if (shown.size > 200) shown.clear();
        shown.set(words, Date.now());
        show(words);
      }
    });
  }
}
