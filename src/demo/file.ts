import { createReadStream, createWriteStream } from 'node:fs';
import { createInterface } from 'node:readline';
import { pipeline } from 'node:stream/promises';
import { constants, createBrotliCompress, createBrotliDecompress } from 'node:zlib';
import type { MikroORM } from '@mikro-orm/postgresql';
import { DAY } from '@/core/shared/instant';
import { acrossWorkspaces, type Crossing } from '@/db/kit/scope';
import { addDays } from '@/core/audience/days';
import { countAllAnew } from '@/db/results/sums';

/** Tables in the order their rows may point at each other. */
const TABLES = [
  ...[
    'workspace',
    'account',
    'membership',
    'sender_number',
    'program',
    'program_sender',
    'field',
    'template',
    'template_version',
    'offer',
    'keyword',
    'media_file',
    'media_piece',
    'form',
    'form_version',
    'form_visit',
    'source',
    'chat_account',
    'chat_template',
    'chat_wording',
    'chat_review',
    'chat_window',
    'chat_told',
    'voicemail_account',
    'voice_message',
    'voice_recording',
    'switchboard',
    'registrar_account',
    'registration_brand',
    'registration_program',
    'registration',
    'registration_step',
    'registration_question',
    'call_event',
    'call_outcome',
    'poster',
    'person',
    // A person brings the preferred ones along.
    'address',
    'broadcast',
    'inbound_text',
    'item',
  ],
  ...[
    'send',
    'written_about',
    'message',
    'text_part',
    'mail',
    'chat',
    'voicemail',
    'drop_wave',
    'call',
    'call_text',
    'link_target',
    'short_link',
    'link_visit',
    'engagement',
    'sender_assignment',
    'consent_event',
    'consent_state',
    'pause',
    'voucher',
    'redemption',
    'thread',
    'thread_note',
    'thread_turn',
    'prepared_use',
    'notice',
    'stack',
    'stack_row',
    'wrong_code',
    'submission',
    'arrival',
    'inquiry',
    'asking',
    'asking_step',
    'personal_link',
    'message_event',
    'credit_entry',
    'audit_entry',
    'segment',
    'segment_count',
    'sequence',
    'sequence_version',
    'source_sequence',
    'enrolment',
    'enrolment_line',
    'task',
    'happening_wanted',
  ],
];

/** Columns that are a calendar day of the story, and move with it; other days, such as birthdays, stay. */
const STORY_DAYS: Record<string, string> = { segment_count: 'day' };

/** Columns that the database numbers itself. */
const IDENTITIES = `select table_name as name, column_name as column from information_schema.columns
  where table_schema = 'public' and is_identity = 'YES'`;

/** Writes the whole demo as lines of JSON: a head with the instant of its "now", then one row a line. */
export async function writeDemo(orm: MikroORM, path: string, now: number): Promise<void> {
  async function* lines() {
    yield `${JSON.stringify({ now: new Date(now).toISOString() })}\n`;
    for (const table of TABLES) {
      const rows = await acrossWorkspaces(orm, (crossing) =>
        crossing.rows<{ row: object }>(
          `select to_jsonb(t) as row from "${table}" t ${table === 'address' ? 'where rank > 0' : ''} order by 1`,
        ),
      );
      for (const { row } of rows) yield `${JSON.stringify([table, row])}\n`;
    }
  }
  const compress = createBrotliCompress({
    params: { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_LGWIN]: 24 },
  });
  await pipeline(lines(), compress, createWriteStream(path));
}

/**
 * Loads the demo with every instant moved by whole days, so that its "now" is the last such hour before ours:
 * hours of the day stay what they were. One transaction: all of it or nothing.
 */
export async function readDemo(orm: MikroORM, path: string, now: number): Promise<void> {
  await acrossWorkspaces(orm, async (crossing) => {
    // It happened weeks ago: nobody is told of it now, and what it cost stands in its ledger.
    await crossing.rows(
      `select set_config(name, 'on', true) from unnest('{wren.quiet,wren.restoring}'::text[]) as n (name)`,
    );
    // Opened here and read at once: lines that come while nobody asks for them are lost.
    const lines = createInterface({
      input: createReadStream(path).pipe(createBrotliDecompress()),
      crlfDelay: Infinity,
    });
    let days: number | null = null;
    let table = '';
    let batch: string[] = [];
    const flush = async () => {
      if (batch.length > 0) {
        const columns = await columnsOf(crossing, table, batch[0]!);
        await crossing.run(
          `insert into public."${table}" (${columns}) overriding system value
           select ${columns} from jsonb_populate_recordset(null::public."${table}", :rows::jsonb)`,
          { rows: `[${batch.join(',')}]` },
        );
      }
      batch = [];
    };
    for await (const line of lines) {
      if (days === null) {
        days = Math.floor((now - Date.parse((JSON.parse(line) as { now: string }).now)) / DAY);
        continue;
      }
      const next = /^\["(\w+)",/.exec(line)![1]!;
      if (next !== table || batch.length >= 1_000) await flush();
      table = next;
      batch.push(moveTimes(table, line.slice(table.length + 4, -1), days));
    }
    await flush();
    // Rows came with their numbers: what is written next must not get one of theirs.
    for (const { name, column } of await crossing.rows<{ name: string; column: string }>(IDENTITIES))
      await crossing.rows(
        `select setval(pg_get_serial_sequence('${name}', '${column}'), coalesce((select max(${column}) from "${name}"), 0) + 1)`,
      );
    await crossing.run(
      `insert into last_text (person_id, workspace_id, at) select person_id, workspace_id, max(submitted_at) from message where submitted_at is not null group by 1, 2`,
    );
    // What came in was loaded before the messages it answers and the consents of who wrote: it is told and summed when all is there.
    await crossing.run(`update inbound_text set meaning = meaning`);
    await countAllAnew(crossing);
  });
}

/** What is looked after by the clock is looked after from now on. */
export const lookAfterFromNowOn = (orm: MikroORM): Promise<number> =>
  acrossWorkspaces(orm, (crossing) =>
    crossing.run(`update workspace set numbers_at = now() + interval '1 hour', credits_at = now()`),
  );

/**
 * Columns that are stored as given: those PostgreSQL works out itself are left to it, and those that the file was
 * written before keep what they are by default.
 */
async function columnsOf(crossing: Crossing, table: string, row: string): Promise<string> {
  const written = Object.keys(JSON.parse(row) as object);
  const rows = await crossing.rows<{ name: string }>(
    `select column_name as name from information_schema.columns
      where table_schema = 'public' and table_name = :table and is_generated = 'NEVER'
        and column_name = any(:written::text[]) order by ordinal_position`,
    { table, written },
  );
  return rows.map(({ name }) => `"${name}"`).join(', ');
}

/** Every instant in a row, whether written as ISO 8601 or as milliseconds, and its days of the story, moved by whole days. */
function moveTimes(table: string, json: string, days: number): string {
  const column = STORY_DAYS[table];
  const moved = column
    ? json.replace(
        new RegExp(`("${column}": ?")(20\\d\\d-\\d\\d-\\d\\d)"`),
        (_, before: string, day: string) => `${before}${addDays(day, days)}"`,
      )
    : json;
  return moved
    .replace(/\b(20\d\d-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d+)?)(Z|\+00:00)/g, (_, stamp: string, zone: string) =>
      new Date(Date.parse(`${stamp}Z`) + days * DAY).toISOString().replace('Z', zone),
    )
    .replace(/\b1[789]\d{11}\b/g, (millis) => String(Number(millis) + days * DAY));
}
