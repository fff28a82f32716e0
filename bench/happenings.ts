import { FORMAT, type SequenceDocument } from '@/core/sequence/document';
import type { Scope } from '@/db/kit/scope';
import { follow, type Consumer } from '@/services/kit/happenings';
import { findOrMakeLabel } from '@/services/people/labels';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { must } from '@/services/testing/people';
import { until } from '../e2e/support/app';
import { ask } from './ask';
import { ME, startBusy, type Busy } from './busy';
import { quantile, round, say } from './report';

const PORT = 4692;
/** Tags put on one person each, one after the other. */
const TAGS = 300;

/** Takes what happened and does nothing with it: what is measured is the passing on. */
const NOBODY: Consumer = {
  name: 'bench',
  follows: () => Promise.resolve(['tag.put']),
  take: () => Promise.resolve(),
};

/** How many happenings a consumer is handed a second, and how soon the running worker has taken one that was committed. */
export async function benchHappenings(): Promise<void> {
  const busy = await startBusy(PORT, 'bench_happenings');
  try {
    const [many, one, begins] = await busy.within((scope) => labels(busy, scope));
    const { n, seconds } = await handedOver(busy, many);
    say('happenings to a consumer', {
      ...{ happenings: n, per_second: Math.round(n / seconds), asked_per_second: 5_000 },
    });
    await busy.within((scope) => beginsWith(busy, scope, begins));
    await caughtUp(busy);
    say('commit to consumer, that passes it over', { ...(await latency(busy, one)), asked_p95_ms: 200 });
    say('commit to consumer, that begins a sequence', {
      ...(await latency(busy, begins)),
      asked_p95_ms: 200,
    });
  } finally {
    await busy.close();
  }
}

const labels = async ({ ctx }: Busy, scope: Scope): Promise<[string, string, string]> => {
  const make = async (name: string) => must(await findOrMakeLabel(ctx, scope, 'tag', name, 'bench')).id;
  return [await make('many'), await make('one'), await make('begins')];
};

/** Everybody gets a tag in one statement; then all of it is followed. */
async function handedOver({ ctx, within }: Busy, label: string): Promise<{ n: number; seconds: number }> {
  // What was before is none of its business.
  while ((await follow(ctx, NOBODY)) > 0);
  const n = await within((scope) =>
    scope.run(
      `insert into person_label (workspace_id, person_id, label_id, at) select :workspace, id, :label, now() from person where workspace_id = :workspace`,
      { label },
    ),
  );
  const from = performance.now();
  while ((await follow(ctx, NOBODY)) > 0);
  return { n, seconds: (performance.now() - from) / 1_000 };
}

const BEHIND = `select count(*)::int as n from happening h where h.seq > (
  select coalesce(min(after_seq), 0) from happening_cursor where consumer = 'sequences') and h.kind = 'tag.put'`;

const caughtUp = ({ databaseUrl }: Busy): Promise<unknown> =>
  until(
    async () => (await ask<{ n: number }>(databaseUrl, BEHIND))[0]!.n,
    (n) => n === 0,
    300_000,
    250,
  );

/** From the commit of one tag to the commit of who follows it. */
async function latency({ within }: Busy, label: string) {
  const people = await within((scope) =>
    scope.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace order by id limit ${TAGS}`,
    ),
  );
  const times: number[] = [];
  for (const { id } of people) {
    await within((scope) =>
      scope.run(
        `insert into person_label (workspace_id, person_id, label_id, at) values (:workspace, :id, :label, now())`,
        { id, label },
      ),
    );
    const from = performance.now();
    while (!(await within((scope) => taken(scope, id, label))))
      await new Promise((resolve) => setTimeout(resolve, 2));
    times.push(performance.now() - from);
    // Not in step with whoever looks now and then.
    await new Promise((resolve) => setTimeout(resolve, 20 + Math.random() * 100));
  }
  return { times: TAGS, p50_ms: round(quantile(times, 0.5)), p95_ms: round(quantile(times, 0.95)) };
}

const taken = async (scope: Scope, id: string, label: string): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 as found from happening h join happening_cursor c on c.workspace_id = h.workspace_id and c.consumer = 'sequences' and c.after_seq >= h.seq
        where h.workspace_id = :workspace and h.person_id = :id and h.kind = 'tag.put' and h.subject = :label`,
      { id, label },
    )
  ).length > 0;

async function beginsWith({ ctx }: Busy, scope: Scope, label: string): Promise<void> {
  const [sky] = await scope.rows<{ id: string }>(`select id from program where workspace_id = :workspace`);
  const document: SequenceDocument = {
    ...{ format: FORMAT, name: 'One line', program: sky!.id, begins: [{ on: 'tag', label }], only: null },
    ...{ again: { rule: 'never' }, grace_minutes: 5, hours: null, ends: [] },
    lines: [
      {
        ...{ id: 'l0', when: { at: 'after', minutes: 3_600, from: 'before' }, late: 'go' },
        what: { do: 'text', body: 'Bench: clear tonight. Reply STOP to stop.' },
      },
    ],
  };
  const made = must(await createSequence(ctx, scope, { document }, ME));
  must(await publishSequence(ctx, scope, made.id, { stamp: 1 }, ME));
}
