import { METHOD_WORDS, type Method } from '@/core/consent/ledger';
import { displayNumber } from '@/core/phone/number';
import { REGION_NAMES } from '@/core/phone/regions';
import { SHEETS } from '@/core/poster/document';
import {
  OUTCOMES_OF,
  rank,
  type Counted,
  type Counts,
  type Dimension,
  type Outcome,
  type Works,
} from '@/core/results/works';
import { cutText } from '@/core/shared/clean-text';
import { everyLine, isMessage } from '@/core/sequence/document';
import { ok, type Result } from '@/core/shared/result';
import { Broadcast } from '@/db/sends/entities';
import { Sequence } from '@/db/sequences/entities';
import { Template } from '@/db/templates/entities';
import type { Scope } from '@/db/kit/scope';
import { broadcastCounts } from '@/db/results/results';
import { hourSums, programSums } from '@/db/results/sums';
import {
  accountNames,
  callsOfDrops,
  hourEngagements,
  lineWorks,
  namesOf,
  nearMisses,
  numberWorks,
  peopleWorks,
  posterDocuments,
  teammateWorks,
  usedOfSends,
  wordingWorks,
  type WayIn,
} from '@/db/results/works';
import { invalid, type Refusal } from '@/services/kit/validation';
import { instantsOf, type Asked } from './asked';

/** One thing that is compared, and where it is looked at. */
interface Thing extends Counted {
  href?: string;
}

const MOST_BROADCASTS = 500;

/** Compares what there is by an outcome, in a span. */
export async function readWorks(
  scope: Scope,
  asked: Asked,
  compare: Dimension,
  by: Outcome | undefined,
): Promise<Result<Works, Refusal>> {
  const outcome = by ?? OUTCOMES_OF[compare][0]!;
  if (!OUTCOMES_OF[compare].includes(outcome))
    return invalid(
      'outcome',
      `outcome: must be one of ${OUTCOMES_OF[compare].join(', ')} where ${compare} is compared.`,
    );
  const things = await READ[compare](scope, asked);
  const hrefs = new Map(things.map(({ key, href }) => [key, href ?? null]));
  const { ranked, all, compared } = rank(things, outcome);
  const rows = ranked
    .filter(({ rate }) => rate.of > 0)
    .map((row) => ({ ...row, href: hrefs.get(row.key) ?? null }));
  return ok({ compare, outcome, rows, all, compared });
}

const READ: Record<Dimension, (scope: Scope, asked: Asked) => Promise<Thing[]>> = {
  broadcast: readBroadcasts,
  voicemail: readVoicemails,
  template: readTemplates,
  program: readPrograms,
  wording: readWordings,
  line: readLines,
  number: readNumbers,
  hour: (scope, asked) => readHours(scope, asked, 24, (hour) => `${String(hour).padStart(2, '0')}:00`),
  weekday: (scope, asked) => readHours(scope, asked, 7, (day) => WEEKDAYS[day]!),
  keyword: readKeywords,
  form: (scope, asked) => readWays(scope, asked, 'form'),
  poster: (scope, asked) => readWays(scope, asked, 'poster'),
  source: (scope, asked) => readWays(scope, asked, 'source'),
  way: (scope, asked) => readWays(scope, asked, 'way'),
  tag: (scope, asked) => readWays(scope, asked, 'tag'),
  region: (scope, asked) => readWays(scope, asked, 'region'),
  teammate: readTeammates,
};

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

const fits = (asked: Asked, { programId, channel }: { programId: string; channel: string }): boolean =>
  (asked.program === null || asked.program === programId) &&
  (asked.channel === null || asked.channel === channel);

/** Broadcasts that were begun in a span: those that can be answered, or voicemails. */
async function broadcastsIn(
  scope: Scope,
  asked: Asked,
  spoken = false,
): Promise<{ broadcast: Broadcast; counts: Counts }[]> {
  const { from, until } = instantsOf(asked);
  const begun = await scope.em.find(
    Broadcast,
    { begunAt: { $gte: from, $lt: until } },
    { orderBy: { begunAt: 'desc' }, limit: MOST_BROADCASTS },
  );
  const those = begun.filter((one) => (one.channel === 'voicemail') === spoken && fits(asked, one));
  const rows = new Map(
    (
      await broadcastCounts(
        scope,
        those.map(({ id }) => id),
      )
    ).map((row) => [row.id, row]),
  );
  const used = new Map(
    (
      await usedOfSends(
        scope,
        those.map(({ id }) => id),
      )
    ).map((one) => [one.id, one.used]),
  );
  return those.flatMap((broadcast) => {
    const row = rows.get(broadcast.id);
    if (!row) return [];
    const { delivered, failed, replies, clicks, opt_outs: lost } = row;
    const redeemed = used.get(broadcast.id) ?? 0;
    return [{ broadcast, counts: { delivered, failed, answered: replies, clicked: clicks, redeemed, lost } }];
  });
}

async function readBroadcasts(scope: Scope, asked: Asked): Promise<Thing[]> {
  return (await broadcastsIn(scope, asked)).map(({ broadcast: { id, name }, counts }) => ({
    ...{ key: id, name, counts, href: `/sends/${id}` },
  }));
}

/** Nobody answers a recording: they call back, or do not. */
async function readVoicemails(scope: Scope, asked: Asked): Promise<Thing[]> {
  const drops = await broadcastsIn(scope, asked, true);
  const ids = drops.map(({ broadcast }) => broadcast.id);
  const called = new Map((await callsOfDrops(scope, ids)).map((one) => [one.id, one.called]));
  return drops.map(({ broadcast: { id, name }, counts }) => ({
    ...{ key: id, name, counts: { ...counts, called: called.get(id) ?? 0 }, href: `/sends/${id}` },
  }));
}

const add = (a: Counts, b: Counts): Counts => {
  const sum: Counts = { ...a };
  for (const [what, n] of Object.entries(b) as [keyof Counts, number][]) sum[what] = (sum[what] ?? 0) + n;
  return sum;
};

async function readTemplates(scope: Scope, asked: Asked): Promise<Thing[]> {
  const sums = new Map<string, Counts>();
  for (const { broadcast, counts } of await broadcastsIn(scope, asked))
    if (broadcast.templateId !== null)
      sums.set(broadcast.templateId, add(sums.get(broadcast.templateId) ?? {}, counts));
  const names = await scope.em.find(Template, { id: [...sums.keys()] });
  return names.map(({ id, name }) => ({
    key: id,
    name,
    counts: sums.get(id)!,
    href: `/sends/templates/${id}`,
  }));
}

async function readPrograms(scope: Scope, asked: Asked): Promise<Thing[]> {
  const things = new Map<string, Thing>();
  for (const { id, name, archived, what, n } of await programSums(scope, asked.span, asked.channel)) {
    const before = things.get(id) ?? {
      ...{ key: id, name: archived ? `${name} (archived)` : name, counts: {}, href: `/programs/${id}` },
    };
    things.set(id, { ...before, counts: add(before.counts, { [what]: n }) });
  }
  return [...things.values()];
}

async function readWordings(scope: Scope, asked: Asked): Promise<Thing[]> {
  const rows = await wordingWorks(scope, instantsOf(asked));
  const ids = [...new Set(rows.map(({ key }) => key.split('.')[0]!))];
  const broadcasts = new Map((await scope.em.find(Broadcast, { id: ids })).map((one) => [one.id, one]));
  return rows.flatMap(({ key, ...counts }) => {
    const [id, nth] = key.split('.') as [string, string];
    const broadcast = broadcasts.get(id);
    if (!broadcast || !fits(asked, broadcast)) return [];
    const words = [broadcast.body, ...(broadcast.comparison?.others ?? []).map(({ body }) => body)][
      Number(nth)
    ];
    const name = `${broadcast.name}: ${quoted(words ?? '')}`;
    return [{ key, name, counts, group: broadcast.name, href: `/sends/${id}` }];
  });
}

/** The end of what is said: wordings of one broadcast begin alike. */
const quoted = (body: string): string => {
  const plain = body.replace(/\{[^}]*\}/g, '…').replace(/\s*Reply STOP[^.]*\.?\s*$/i, '');
  return plain.length <= 60 ? `“${plain}”` : `“… ${plain.slice(-60).replace(/^\S*\s/, '')}”`;
};

async function readKeywords(scope: Scope, asked: Asked): Promise<Thing[]> {
  const near = new Map(
    (await nearMisses(scope, instantsOf(asked))).map(({ key, n }) => [key.toLowerCase(), n]),
  );
  return (await readWays(scope, asked, 'keyword')).map((thing) => ({
    ...thing,
    name: thing.name.toUpperCase(),
    near: near.get(thing.key.toLowerCase()) ?? 0,
  }));
}

async function readLines(scope: Scope, asked: Asked): Promise<Thing[]> {
  const rows = await lineWorks(scope, instantsOf(asked));
  const ids = [...new Set(rows.map(({ key }) => key.split('.')[0]!))];
  const sequences = new Map((await scope.em.find(Sequence, { id: ids })).map((one) => [one.id, one]));
  return rows.flatMap(({ key, ...counts }) => {
    const [id, line] = key.split('.') as [string, string];
    const sequence = sequences.get(id);
    if (!sequence || (asked.program !== null && sequence.programId !== asked.program)) return [];
    return [
      {
        key,
        name: `${sequence.name}: ${wordsOf(sequence, line)}`,
        counts,
        href: `/programs/sequences/${id}`,
      },
    ];
  });
}

/** The beginning of what a line says; of one that was taken out since, that it was. */
function wordsOf({ draft }: Sequence, id: string): string {
  const line = [...everyLine(draft.lines)].find((one) => one.id === id);
  if (!line || !isMessage(line.what)) return 'a line that is no more';
  return `“${cutText(line.what.body.replace(/\{[^}]*\}/g, '…'), 48)}”`;
}

async function readNumbers(scope: Scope, asked: Asked): Promise<Thing[]> {
  const rows = await numberWorks(scope, instantsOf(asked));
  const numbers = await namesOf(scope, 'sender_number', keysOf(rows));
  const names = numbers.map(({ id, name }) => ({ id, name: displayNumber(name) }));
  return named(rows, names, (id) => `/numbers/${id}`);
}

async function readTeammates(scope: Scope, asked: Asked): Promise<Thing[]> {
  const rows = await teammateWorks(scope, instantsOf(asked), asked);
  return named(rows, await accountNames(scope, keysOf(rows)));
}

async function readHours(
  scope: Scope,
  asked: Asked,
  of: 7 | 24,
  nameOf: (nth: number) => string,
): Promise<Thing[]> {
  const sums = [
    ...(await hourSums(scope, asked.span, asked)),
    ...(await hourEngagements(scope, asked.span, asked)),
  ];
  const counts = Array.from({ length: of }, (): Counts => ({}));
  for (const { hour, what, n } of sums) {
    const nth = of === 24 ? hour % 24 : Math.floor(hour / 24);
    counts[nth] = add(counts[nth]!, { [what]: n });
  }
  return counts.map((one, nth) => ({ key: String(nth), name: nameOf(nth), counts: one }));
}

type NamesOf = (scope: Scope, keys: readonly string[]) => Promise<{ id: string; name: string }[]>;
const namedIn =
  (table: 'form' | 'source' | 'label'): NamesOf =>
  (scope, keys) =>
    namesOf(scope, table, keys);
const namedBy =
  (nameOf: (key: string) => string): NamesOf =>
  (_, keys) =>
    Promise.resolve(keys.map((id) => ({ id, name: nameOf(id) })));

const posterNames: NamesOf = async (scope, keys) =>
  (await posterDocuments(scope, keys)).map(({ id, document: { headline, sheet } }) => ({
    ...{ id, name: `“${headline}”, ${SHEETS[sheet].words}` },
  }));

/** What each way in, or kind of person, is called, and where it is looked at by itself. */
const WAYS: Record<WayIn, { names: NamesOf; href?: (key: string) => string }> = {
  keyword: { names: namedBy((key) => key) },
  form: { names: namedIn('form'), href: (id) => `/programs/forms/${id}` },
  poster: { names: posterNames, href: (id) => `/programs/posters/${id}` },
  source: { names: namedIn('source'), href: (id) => `/programs/inquiries/${id}` },
  way: { names: namedBy((key) => METHOD_WORDS[key as Method]) },
  tag: { names: namedIn('label') },
  region: { names: namedBy((key) => REGION_NAMES[key] ?? key) },
};

async function readWays(scope: Scope, asked: Asked, by: WayIn): Promise<Thing[]> {
  const rows = await peopleWorks(scope, by, instantsOf(asked), asked);
  const { names, href } = WAYS[by];
  return named(rows, await names(scope, keysOf(rows)), href);
}

const keysOf = (rows: readonly { key: string }[]): string[] => rows.map(({ key }) => key);

function named(
  rows: readonly (Counts & { key: string })[],
  names: readonly { id: string; name: string }[],
  hrefOf?: (key: string) => string,
): Thing[] {
  const known = new Map(names.map(({ id, name }) => [id, name]));
  return rows.map(({ key, ...counts }) => ({
    ...{ key, name: known.get(key) ?? 'no longer here', counts },
    ...(hrefOf ? { href: hrefOf(key) } : {}),
  }));
}
