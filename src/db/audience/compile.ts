import { assertNever } from '@/core/shared/result';
import type { Target } from '@/core/audience/condition';
import { GOT_STATES, type Plan, type ValuePlan, type ValueTest } from '@/core/audience/plan';
import { namesItem } from '@/db/items/items';
import type { SqlValue } from '@/db/kit/scope';

/** A WHERE clause over `person p` with its parameters. */
export interface Compiled {
  where: string;
  values: Record<string, SqlValue>;
  /**
   * For a condition that is one row of one table for each person (a tag, a consent): those rows. Counting them counts
   * the people, without looking at any of them. `holds` is false when it is the others who are meant.
   */
  rows?: { from: string; holds: boolean };
}

/**
 * The same people as `evaluate`, for the database to find. Negation is pushed down to the leaves, so that the
 * planner sees plain EXISTS and NOT EXISTS, which it joins by, instead of a test for each of a million rows.
 * Two-valued throughout: what is null or empty simply does not hold. `prefix` keeps parameters of several apart.
 */
export function compile(plan: Plan, prefix = 'c'): Compiled {
  const values: Record<string, SqlValue> = {};
  let count = 0;
  const bind = (value: SqlValue): string => {
    const name = `${prefix}${count++}`;
    values[name] = value;
    return `:${name}`;
  };
  const where = write(plan, bind, true);
  const bare = bareOf(plan, true);
  const from = bare && rowOf(bare.plan, bind);
  return { where, values, ...(from ? { rows: { from, holds: bare.holds } } : {}) };
}

/** A plan without the groups of one around it and the negations before it. */
function bareOf(plan: Plan, holds: boolean): { plan: Plan; holds: boolean } {
  if (plan.op === 'not') return bareOf(plan.of, !holds);
  if ((plan.op === 'and' || plan.op === 'or') && plan.of.length === 1) return bareOf(plan.of[0]!, holds);
  return { plan, holds };
}

/** The rows of a plan that is one row for each person: a label or a consent that was once recorded. */
function rowOf(plan: Plan, bind: Bind): string | null {
  if (plan.op === 'label')
    return `person_label x where x.workspace_id = :workspace and x.label_id = ${bind(plan.id)}`;
  if (plan.op === 'consent' && plan.state !== 'never')
    return `${consentRows(plan, bind)} and x.state = ${bind(plan.state)}${since('x.since', plan.since, bind)}`;
  return null;
}

type Bind = (value: SqlValue) => string;

function write(plan: Plan, bind: Bind, holds: boolean): string {
  switch (plan.op) {
    case 'not':
      return write(plan.of, bind, !holds);
    case 'and':
    case 'or': {
      const and = (plan.op === 'and') === holds;
      if (plan.of.length === 0) return and ? 'true' : 'false';
      return `(${plan.of.map((one) => write(one, bind, holds)).join(and ? ' and ' : ' or ')})`;
    }
    case 'value':
      return writeValue(plan, bind, holds);
    case 'consent':
      return plan.state === 'never'
        ? exists(!holds, `${consentRows(plan, bind)} and ${THEIRS}`)
        : exists(holds, `${rowOf(plan, bind)} and ${THEIRS}`);
    case 'label':
      return exists(holds, `${rowOf(plan, bind)} and ${THEIRS}`);
    default:
      return exists(holds, rowsOf(plan, bind));
  }
}

const THEIRS = 'x.person_id = p.id';

const exists = (holds: boolean, rows: string): string =>
  `${holds ? '' : 'not '}exists (select 1 from ${rows})`;

/** The workspace stands in every subquery too: rows of one workspace only, and indexes that begin with it. */
const consentRows = ({ channel, program }: Extract<Plan, { op: 'consent' }>, bind: Bind): string =>
  `consent_state x where x.workspace_id = :workspace and x.program_id = ${bind(program)} and x.channel = '${channel}' and x.current`;

function rowsOf(
  plan: Exclude<Plan, { op: 'not' | 'and' | 'or' | 'value' | 'consent' | 'label' }>,
  bind: Bind,
): string {
  switch (plan.op) {
    case 'sent':
      return [
        `message t where t.person_id = p.id and t.workspace_id = :workspace`,
        ofTarget(plan.of, bind),
        ` and t.state ${anyOf(plan.states, bind)}`,
        plan.failure === null ? '' : ` and t.failure = ${bind(plan.failure)}`,
        since('t.submitted_at', plan.since, bind),
      ].join('');
    case 'replied':
      return [
        `inbound_text x ${afterText(plan.of, 'x.after_text_id')}where x.person_id = p.id and x.workspace_id = :workspace`,
        ` and x.meaning ${anyOf(plan.meanings, bind)}`,
        ofTarget(plan.of, bind),
        since('x.at', plan.since, bind),
      ].join('');
    case 'engaged':
      return [
        `engagement x ${afterText(plan.of, 'x.text_id')}where x.person_id = p.id and x.workspace_id = :workspace and x.kind = ${bind(plan.act)}`,
        ofTarget(plan.of, bind),
        since('x.at', plan.since, bind),
      ].join('');
    case 'left':
      return [
        `consent_event x where x.person_id = p.id and x.workspace_id = :workspace and x.kind = 'opted-out'`,
        plan.program === null ? '' : ` and x.program_id = ${bind(plan.program)}`,
        since('x.at', plan.since, bind),
      ].join('');
    case 'texts':
      // Grouped once for all, instead of counted for each.
      return [
        `(select t.person_id from message t where t.workspace_id = :workspace and t.submitted_at >= ${bind(new Date(plan.since))}`,
        ` and t.state ${anyOf(GOT_STATES, bind)}`,
        plan.program === null ? '' : ` and t.program_id = ${bind(plan.program)}`,
        ` group by t.person_id having count(*) >= ${bind(plan.least)}::int) x where x.person_id = p.id`,
      ].join('');
    case 'origin':
      return plan.of === 'import'
        ? `import_row x join import i on i.id = x.import_id where x.person_id = p.id and x.workspace_id = :workspace and x.import_id = ${bind(plan.id)} and ${IMPORTED}`
        : `batch_person x where x.person_id = p.id and x.workspace_id = :workspace and x.batch_id = ${bind(plan.id)}`;
    case 'voucher':
      return [
        `voucher x where x.person_id = p.id and x.workspace_id = :workspace and x.offer_id = ${bind(plan.offer)}`,
        voucherTest(plan, bind),
      ].join('');
    default:
      return assertNever(plan);
  }
}

const USED = `exists (select 1 from redemption r where r.voucher_id = x.id and r.undone_at is null)`;

function voucherTest({ state, now, until }: Extract<Plan, { op: 'voucher' }>, bind: Bind): string {
  switch (state) {
    case 'got':
      return '';
    case 'used':
      return ` and ${USED}`;
    case 'valid':
      return ` and x.uses_left > 0 and (x.expires_at is null or x.expires_at > ${bind(new Date(now))})`;
    case 'ending':
      return ` and x.uses_left > 0 and x.expires_at > ${bind(new Date(now))} and x.expires_at <= ${bind(new Date(until!))}`;
    case 'ended':
      return ` and x.expires_at <= ${bind(new Date(now))} and not ${USED}`;
  }
}

/** Rows of an import that were carried out and not taken back. */
export const IMPORTED = `x.verdict in ('add', 'update', 'same') and x.line <= i.cursor and x.undone is null and i.state in ('running', 'finished', 'stopped', 'undoing')`;

const anyOf = (values: readonly string[], bind: Bind): string =>
  values.length === 1 ? `= ${bind(values[0]!)}` : `= any(${bind(values)}::text[])`;

const since = (column: string, at: number | null, bind: Bind): string =>
  at === null ? '' : ` and ${column} >= ${bind(new Date(at))}`;

const isAnything = ({ broadcast, step, program, item }: Target): boolean =>
  !broadcast && !step && !program && !item;

const afterText = (of: Target, column: string): string =>
  isAnything(of) ? '' : `join message t on t.id = ${column} and t.workspace_id = :workspace `;

const ofTarget = ({ broadcast, step, program, item }: Target, bind: Bind): string =>
  [
    broadcast ? ` and t.send_id = ${bind(broadcast)}` : '',
    step ? ` and t.step_id = ${bind(step)}` : '',
    program ? ` and t.program_id = ${bind(program)}` : '',
    item ? ` and ${namesItem(bind(item))}` : '',
  ].join('');

/** Where each built-in field lies. Expressions give null where there is nothing. */
const COLUMNS: Record<string, string> = {
  first_name: 'p.first_name',
  last_name: 'p.last_name',
  email: 'p.email',
  number: 'p.number',
  number_state: 'case when p.number is not null then p.number_state end',
  email_state: 'case when p.email is not null then p.email_state end',
  area_code: `substring(p.number from '^\\+1(\\d{3})\\d{7}$')`,
  place: 'p.place_region',
  postal_code: 'p.postal_code',
  line_type: 'p.line_type',
  source: 'p.source',
  stage: 'p.stage_id',
  owner: 'p.owner_id',
  created: 'p.created_at',
  last_reply: 'p.last_wrote_at',
  paused_until: 'p.paused_until',
};

const NUMBER_PATTERN = `'^-?\\d{1,12}(\\.\\d{1,3})?$'`;
const DATE_PATTERN = `'^\\d{4}-\\d{2}-\\d{2}$'`;

function writeValue({ field, kind, test }: ValuePlan, bind: Bind, holds: boolean): string {
  if (field === 'last_text')
    return exists(
      holds,
      `last_text x where x.person_id = p.id and x.workspace_id = :workspace and ${instantTest('x.at', test, bind)}`,
    );
  if (kind === 'several')
    return exists(
      holds,
      `${elementsOf(field, bind)} as x (value) where x.value <> '' and ${textTest('x.value', test, bind)}`,
    );
  const column = COLUMNS[field] ?? own(field, bind);
  const sql =
    kind === 'instant'
      ? instantTest(column, test, bind)
      : kind === 'number'
        ? `case when ${column} ~ ${NUMBER_PATTERN} then ${numberTest(column, test, bind)} end`
        : kind === 'date'
          ? `case when ${column} ~ ${DATE_PATTERN} then ${dateTest(column, test, bind)} end`
          : textTest(column, test, bind);
  return holds ? `(${sql})` : `((${sql}) is not true)`;
}

const own = (field: string, bind: Bind): string => `(p.fields ->> ${bind(field.slice('own.'.length))}::text)`;

function elementsOf(field: string, bind: Bind): string {
  if (field === 'zone') return `unnest(p.place_zones)`;
  if (field === 'further') return `unnest(p.further)`;
  const name = bind(field.slice('own.'.length));
  return `jsonb_array_elements_text(case when jsonb_typeof(p.fields -> ${name}::text) = 'array' then p.fields -> ${name}::text else '[]' end)`;
}

function textTest(column: string, test: ValueTest, bind: Bind): string {
  if ('present' in test) return `${column} <> ''`;
  if ('contains' in test) return `strpos(lower(${column}), ${bind(test.contains)}::text) > 0`;
  if ('starts' in test) return `starts_with(lower(${column}), ${bind(test.starts)}::text)`;
  if ('is' in test) return `lower(${column}) ${anyOf(test.is, bind)}`;
  return 'false';
}

function numberTest(column: string, test: ValueTest, bind: Bind): string {
  if ('numbers' in test)
    return range(`(${column})::double precision`, test.numbers, bind, '::double precision');
  return 'present' in test ? 'true' : 'false';
}

function dateTest(column: string, test: ValueTest, bind: Bind): string {
  if ('days' in test) return range(`${column} collate "C"`, test.days, bind, '::text');
  if ('monthDays' in test) return `substr(${column}, 6) ${anyOf(test.monthDays, bind)}`;
  return 'present' in test ? 'true' : 'false';
}

function instantTest(column: string, test: ValueTest, bind: Bind): string {
  if ('present' in test) return `${column} is not null`;
  if ('monthDays' in test)
    return `to_char(${column} at time zone ${bind(test.zone)}, 'MM-DD') ${anyOf(test.monthDays, bind)}`;
  if (!('instants' in test)) return 'false';
  const [from, to] = test.instants;
  return [
    from === null ? '' : `${column} >= ${bind(new Date(from))}`,
    to === null ? '' : `${column} < ${bind(new Date(to))}`,
    from === null && to === null ? 'true' : '',
  ]
    .filter(Boolean)
    .join(' and ');
}

const range = (
  column: string,
  [from, to]: [string | number | null, string | number | null],
  bind: Bind,
  cast: string,
): string =>
  [
    from === null ? '' : `${column} >= ${bind(from)}${cast}`,
    to === null ? '' : `${column} <= ${bind(to)}${cast}`,
  ]
    .filter(Boolean)
    .join(' and ') || 'true';
