import { SAID_BY_REGISTRAR, type RegistrationEvent } from '@/core/registration/life';
import type { BrandFile, NumberFile, ProgramFile, RegistrationAbout } from '@/core/registration/file';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { isRecord, parseJson } from '@/core/shared/json';
import { ok, refuse, type Result } from '@/core/shared/result';
import { doneBy, jsonBy, type CallRefusal } from '../answered';
import { call, type Call, type Called } from '../call';

/** How an account is reached at its registrar: the interface is described in `docs/formats/registrar.json`. */
export interface RegistrarAccess {
  url: string;
  account: string;
  token: string;
}

export interface RegistrarReport {
  name: string;
  state: 'open' | 'closed';
  /** Seconds a review takes. */
  usual: Partial<Record<RegistrationAbout, number>>;
}

export interface HandedInFile {
  about: RegistrationAbout;
  /** References of what it rests on; one of them has to be registered. */
  needs: readonly string[];
  /** Of the file: a higher one replaces it. */
  version: number;
  file: BrandFile | ProgramFile | NumberFile;
}

/** A question of a reviewer. */
export interface Asked {
  key: string;
  field: string;
  words: string;
}

/** How an application stands at its registrar. */
export interface Stands {
  /** It changes whenever they change their mind. */
  turn: number;
  /** Null: it is in review. */
  event: RegistrationEvent | null;
  /** The file they decided about, or look at. */
  version: number;
  reason: string | null;
  /** Those that wait for an answer. */
  questions: Asked[];
  /** What became of a newer file of what is registered; null: there is none. */
  change: { version: number; state: 'in-review' | 'refused'; reason: string | null } | null;
}

export interface Registrar {
  account(access: RegistrarAccess): Promise<Result<RegistrarReport, CallRefusal>>;
  /** Where it calls us back, and what it signs with. */
  register(
    access: RegistrarAccess,
    back: { url: string; secret: string },
  ): Promise<Result<null, CallRefusal>>;
  /** Once for each reference and version, however often it is brought. */
  handIn(
    access: RegistrarAccess,
    reference: string,
    file: HandedInFile,
  ): Promise<Result<Stands, CallRefusal>>;
  /** Null: it has none of this reference. */
  ask(access: RegistrarAccess, reference: string): Promise<Result<Stands | null, CallRefusal>>;
  answer(
    access: RegistrarAccess,
    reference: string,
    key: string,
    words: string,
  ): Promise<Result<null, CallRefusal>>;
  takeBack(access: RegistrarAccess, reference: string): Promise<Result<null, CallRefusal>>;
}

const REGISTRAR = { name: 'The registrar', kind: 'registrar' };
const NONE: CallRefusal = { kind: 'refused', why: 'What answered there is no registrar.' };

/** A registrar over HTTP. `allowed`: hosts of private networks that may be called. */
export function registrarOver(allowed: readonly string[]): Registrar {
  const ask = (
    { url, account, token }: RegistrarAccess,
    { path, ...rest }: Omit<Call, 'token' | 'url'> & { path: string },
  ): Promise<Called> =>
    call(
      { ...rest, url: `${url.replace(/\/+$/, '')}/accounts/${encodeURIComponent(account)}${path}`, token },
      allowed,
    );
  const of = (reference: string) => `/applications/${encodeURIComponent(reference)}`;
  const stands = (called: Called): Result<Stands, CallRefusal> => {
    const body = jsonBy(called, REGISTRAR);
    if (!body.ok) return body;
    const read = readStands(body.value);
    return read ? ok(read) : refuse(NONE);
  };
  return {
    account: async (access) => {
      const body = jsonBy(await ask(access, { method: 'GET', path: '' }), REGISTRAR);
      if (!body.ok) return body;
      const report = readReport(body.value);
      return report ? ok(report) : refuse(NONE);
    },
    register: async (access, back) =>
      doneBy(await ask(access, { method: 'PUT', path: '/callbacks', body: back }), REGISTRAR),
    handIn: async (access, reference, file) =>
      stands(
        await ask(access, {
          method: 'PUT',
          path: of(reference),
          body: { ...file, file: fileBody(file.file) },
        }),
      ),
    ask: async (access, reference) => {
      const called = await ask(access, { method: 'GET', path: of(reference) });
      return called.kind === 'answered' && called.status === 404 ? ok(null) : stands(called);
    },
    answer: async (access, reference, question, words) => {
      const path = `${of(reference)}/answers/${encodeURIComponent(question)}`;
      return doneBy(await ask(access, { method: 'PUT', path, body: { words } }), REGISTRAR);
    },
    takeBack: async (access, reference) => {
      const called = await ask(access, { method: 'DELETE', path: of(reference) });
      // What it does not have is taken back.
      return called.kind === 'answered' && called.status === 404 ? ok(null) : doneBy(called, REGISTRAR);
    },
  };
}

/** A file as it goes over the wire: names in small letters, and of each way in what people see of it. */
const fileBody = (file: HandedInFile['file']): object =>
  Object.fromEntries(
    Object.entries(file).map(([name, value]: [string, unknown]) => [
      name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`),
      name === 'ways'
        ? (value as ProgramFile['ways']).map(({ kind, name: called, words }) => ({
            kind,
            name: called,
            words,
          }))
        : value,
    ]),
  );

const text = (value: unknown, most: number): string =>
  typeof value === 'string' ? cutText(cleanText(value), most).trim() : '';

const YEAR_SECONDS = 366 * 24 * 3_600;

function readReport(body: unknown): RegistrarReport | null {
  if (!isRecord(body) || (body.state !== 'open' && body.state !== 'closed')) return null;
  const given = isRecord(body.usual_seconds) ? body.usual_seconds : {};
  const usual: RegistrarReport['usual'] = {};
  for (const about of ['brand', 'program', 'number'] as const) {
    const seconds = given[about];
    if (typeof seconds === 'number' && seconds > 0 && seconds <= YEAR_SECONDS) usual[about] = seconds;
  }
  return { state: body.state, name: text(body.name, 80), usual };
}

const MOST_QUESTIONS = 50;
const whole = (value: unknown): number =>
  Number.isInteger(value) && (value as number) >= 0 ? (value as number) : 0;

function readStands(body: unknown): Stands | null {
  if (!isRecord(body) || typeof body.state !== 'string') return null;
  const event = Object.hasOwn(SAID_BY_REGISTRAR, body.state) ? SAID_BY_REGISTRAR[body.state]! : null;
  if (event === null && body.state !== 'in-review') return null;
  const list: unknown[] = Array.isArray(body.questions) ? body.questions : [];
  const { change } = body;
  return {
    ...{
      turn: whole(body.turn),
      version: whole(body.version),
      event,
      reason: text(body.reason, 1_000) || null,
    },
    questions: list.slice(0, MOST_QUESTIONS).flatMap((one): Asked[] => {
      if (!isRecord(one)) return [];
      const [key, words] = [text(one.key, 200), text(one.words, 2_000)];
      return key && words ? [{ key, words, field: text(one.field, 100) }] : [];
    }),
    change:
      isRecord(change) && (change.state === 'in-review' || change.state === 'refused')
        ? { version: whole(change.version), state: change.state, reason: text(change.reason, 1_000) || null }
        : null,
  };
}

/** Which applications a registrar says have changed, and whether the account has; null: this is no list of events. */
export function readRegistrarTold(body: string): { references: string[]; account: boolean } | null {
  const read = parseJson(body);
  if (!read.ok || !isRecord(read.value) || !Array.isArray(read.value.events)) return null;
  const references = new Set<string>();
  let account = false;
  for (const event of read.value.events as unknown[]) {
    if (!isRecord(event)) continue;
    if (event.kind === 'account.changed') account = true;
    else if (typeof event.reference === 'string') references.add(event.reference);
  }
  return { references: [...references], account };
}
