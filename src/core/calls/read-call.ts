import { nameIn, leavesOf, valueAt, type Tree } from '../inquiry/tree';
import { parseNumber } from '../phone/number';
import { cutText, cleanText } from '../shared/clean-text';
import { DAY, parseInstant, SECOND, type Millis } from '../shared/instant';
import { ok, refuse, type Result } from '../shared/result';
import { CALL_TARGETS, type CallMapping, type CallTarget } from './mapping';

export type CallState = 'ringing' | 'answered' | 'missed' | 'ended';

/** What one event tells of a call: of each thing what is said, and nothing of the rest. */
export interface CallTold {
  /** The telephone system's own id of the call. */
  id: string;
  state: CallState | null;
  direction: 'in' | 'out' | null;
  /** Our number and theirs, as E.164. */
  ours: string | null;
  theirs: string | null;
  teammate: string | null;
  rangAt: Millis | null;
  answeredAt: Millis | null;
  endedAt: Millis | null;
  outcome: string | null;
  note: string | null;
  /** When what it tells happened. */
  at: Millis;
}

export type CallRefusal = 'no-id' | 'no-numbers' | 'hidden';

export const CALL_REFUSAL_WORDS: Record<CallRefusal, string> = {
  'no-id': 'Its id is not where the mapping says. Without one its events cannot be told apart.',
  'no-numbers': 'Neither number can be read, and nothing was told of this call before.',
  hidden: 'They hid their number, so nobody is known by it.',
};

export interface CallContext {
  country: string;
  /** Numbers of ours, as E.164. */
  ours: ReadonlySet<string>;
  /** When it came. */
  at: Millis;
}

const STATES: readonly (readonly [RegExp, CallState])[] = [
  [/miss|no[ _-]?answer|unanswered|unattend|abandon|busy|declin|reject|voicemail/i, 'missed'],
  [/hang|hung|(?<!p|att)end|complet|finish|disconnect|terminat|closed/i, 'ended'],
  [/answer|attend|connect|pick|accept|talk|in[ _-]?progress|bridg|establish/i, 'answered'],
  [/ring|pend|initiat|start|creat|dial|new|offer|queue|incoming|inbound|outgoing|outbound/i, 'ringing'],
];

const stateOf = (word: string): CallState | null =>
  STATES.find(([pattern]) => pattern.test(word))?.[1] ?? null;

const directionOf = (word: string): 'in' | 'out' | null =>
  /^(in|inbound|incoming|received|terminating)\b/i.test(word)
    ? 'in'
    : /^(out|outbound|outgoing|placed|dialed|dialled|originating)\b/i.test(word)
      ? 'out'
      : null;

/** An instant as systems write it: ISO 8601, or seconds, milliseconds or microseconds since 1970. Far from now it is none. */
function instantOf(word: string, now: Millis): Millis | null {
  const number = /^\d{9,16}(?:\.\d+)?$/.test(word) ? Number(word) : null;
  const at =
    number === null
      ? (parseInstant(word) ?? Date.parse(word))
      : number < 1e11
        ? number * SECOND
        : number < 1e14
          ? number
          : Math.round(number / 1_000);
  return Number.isFinite(at) && Math.abs(at - now) < 400 * DAY ? Math.min(at, now) : null;
}

/** Reads what a telephone system tells of a call. Numbers that are none (a name, “anonymous”) are not told. */
export function readCall(
  tree: Tree,
  mapping: CallMapping,
  { country, ours, at }: CallContext,
): Result<CallTold, CallRefusal> {
  const said = (target: CallTarget): string => {
    const pointer = mapping[target];
    return pointer === undefined ? '' : cutText(cleanText(valueAt(tree, pointer)), 500).trim();
  };
  const id = said('id');
  if (id === '') return refuse('no-id');
  const number = (target: 'from' | 'to'): string | null => {
    const word = said(target)
      .replace(/^(?:sips?|tel):/i, '')
      .replace(/[@;].*$/, '');
    const read = word === '' ? null : parseNumber(word, country);
    return read?.ok ? read.value : null;
  };
  const [from, to] = [number('from'), number('to')];
  const direction =
    directionOf(said('direction')) ?? (to && ours.has(to) ? 'in' : from && ours.has(from) ? 'out' : null);
  const instant = (target: 'rang' | 'answered' | 'ended' | 'at') => {
    const word = said(target);
    return word === '' ? null : instantOf(word, at);
  };
  const [mine, theirs] = direction === 'out' ? [from, to] : [to, from];
  return ok({
    ...{ id, state: stateOf(said('state')), direction, ours: direction && mine },
    theirs: direction && theirs,
    teammate: said('teammate') || null,
    ...{ rangAt: instant('rang'), answeredAt: instant('answered'), endedAt: instant('ended') },
    ...{ outcome: said('outcome') || null, note: said('note') || null },
    at: instant('at') ?? at,
  });
}

/** A call as it is known: what several events told, whichever came first. */
export interface KnownCall {
  direction: 'in' | 'out';
  ours: string | null;
  theirs: string;
  teammate: string;
  rangAt: Millis;
  answeredAt: Millis | null;
  endedAt: Millis | null;
  outcome: string | null;
  outcomeAt: Millis | null;
  note: string;
}

/**
 * A call with one more event. Whatever order they come in, and however often each, the same call comes of them: the earliest
 * ring and answer, the latest end, and of outcomes the one that was given last. Null: nothing can be known yet.
 */
export function withEvent(known: KnownCall | null, told: CallTold): KnownCall | null {
  const direction = known?.direction ?? told.direction;
  const theirs = known?.theirs ?? told.theirs;
  if (!direction || !theirs) return null;
  const earliest = (...all: (Millis | null | undefined)[]) => least(all, Math.min);
  const answered = told.answeredAt ?? (told.state === 'answered' ? told.at : null);
  const ended = told.endedAt ?? (told.state === 'ended' || told.state === 'missed' ? told.at : null);
  const newer = told.outcome !== null && told.at >= (known?.outcomeAt ?? -Infinity);
  return {
    ...{ direction, theirs, ours: known?.ours ?? told.ours },
    teammate: told.teammate ?? known?.teammate ?? '',
    rangAt: earliest(known?.rangAt, told.rangAt ?? told.answeredAt ?? told.at)!,
    answeredAt: earliest(known?.answeredAt, answered),
    endedAt: least([known?.endedAt, ended], Math.max),
    outcome: newer ? told.outcome : (known?.outcome ?? null),
    outcomeAt: newer ? told.at : (known?.outcomeAt ?? null),
    note: told.note ?? known?.note ?? '',
  };
}

function least(
  all: readonly (Millis | null | undefined)[],
  choose: (...some: Millis[]) => Millis,
): Millis | null {
  const some = all.filter((one): one is Millis => typeof one === 'number');
  return some.length === 0 ? null : choose(...some);
}

/** Nobody picked up: it rang and ended, and was never answered. */
export const wasMissed = ({
  direction,
  answeredAt,
  endedAt,
}: Pick<KnownCall, 'direction' | 'answeredAt' | 'endedAt'>) =>
  direction === 'in' && answeredAt === null && endedAt !== null;

const NAMES: readonly (readonly [CallTarget, RegExp])[] = [
  ['id', /^(?:call[ _-]?)?(?:id|uuid|sid|identifier|guid)$/i],
  ['direction', /direction|^(?:call)?type$/i],
  ['state', /^(?:call[ _-]?)?(?:state|status|event|event[ _-]?type|kind|what)$/i],
  [
    'from',
    /^(?:from|caller|caller[ _-]?(?:id|number)|source|ani|calling[ _-]?(?:party|number)|from[ _-]?number)$/i,
  ],
  [
    'to',
    /^(?:to|called|callee|destination|dnis|dialed|dialled|called[ _-]?(?:party|number)|to[ _-]?number)$/i,
  ],
  ['teammate', /agent|user|operator|teammate|extension|employee|answered[ _-]?by/i],
  ['answered', /answered|pick(?:ed)?[ _-]?up|connected/i],
  ['ended', /ended|hang|finished|completed|end[ _-]?time|^end$/i],
  ['rang', /started|ring|start[ _-]?time|^start$|initiated/i],
  ['at', /^(?:at|time|timestamp|date|when|occurred(?:[ _-]?at)?)$/i],
  ['outcome', /outcome|disposition|result|tag|label|wrap/i],
  ['note', /note|comment|summary|remark/i],
];

/** A mapping by what values are called, from events of one system. Of a name that fits several the first is meant. */
export function proposeCallMapping(samples: readonly Tree[]): CallMapping {
  const mapping: CallMapping = {};
  const leaves = samples.flatMap((sample) => leavesOf(sample));
  for (const [target, pattern] of NAMES) {
    const taken = new Set(Object.values(mapping));
    const found = leaves.find(
      ({ pointer }) => !taken.has(pointer) && namesIn(pointer).some((name) => pattern.test(name)),
    );
    if (found) mapping[target] = found.pointer;
  }
  return mapping;
}

/** What a value is called; of a name below something else, such as an agent’s, also that. */
function namesIn(pointer: string): string[] {
  const name = nameIn(pointer);
  const above = nameIn(pointer.slice(0, pointer.lastIndexOf('/')));
  return /^(?:full[ _-]?)?name$|^number$|^value$/i.test(name) ? [name, above] : [name];
}

/** A mapping as somebody sent it: pointers of known targets alone. */
export function readCallMapping(given: unknown): CallMapping | null {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return null;
  const mapping: CallMapping = {};
  for (const [name, pointer] of Object.entries(given)) {
    if (!CALL_TARGETS.some((target) => target === name)) return null;
    if (pointer === null || pointer === '') continue;
    if (typeof pointer !== 'string' || pointer.length > 300 || !pointer.startsWith('/')) return null;
    mapping[name as CallTarget] = pointer;
  }
  return mapping;
}
