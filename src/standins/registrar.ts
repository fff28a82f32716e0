import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { LINES, problem, takeAsked, type Line, type Said } from './asked';
import { parseDuration, type BenchClock } from './clock';
import { keep, kept } from './kept';
import { tellUntilTaken } from './telling';

const DAY = 86_400_000;

/** How the registrar and its reviewers are today. */
export interface RegistrarMoods {
  /** usual: by the rules; refusing: everything; never: nothing is ever decided. */
  reviewer: 'usual' | 'refusing' | 'never';
  /** How long a review takes, ISO 8601 on the bench’s clock. */
  brand_after: string;
  program_after: string;
  number_after: string;
  /** Share of what it tells that it tells twice, and of what it tells before what it should follow. */
  twice_share: number;
  disorder_share: number;
  line: Line;
}

const USUAL: RegistrarMoods = {
  ...{ reviewer: 'usual', brand_after: 'PT10S', program_after: 'PT20S', number_after: 'PT5S' },
  ...{ twice_share: 0, disorder_share: 0, line: 'up' },
};

type About = 'brand' | 'program' | 'number';
type State = 'in-review' | 'question' | 'registered' | 'refused' | 'withdrawn';

interface Question {
  key: string;
  field: string;
  words: string;
  answer: string | null;
}

interface Application {
  reference: string;
  about: About;
  needs: string[];
  version: number;
  file: Record<string, unknown>;
  state: State;
  turn: number;
  reason: string | null;
  questions: Question[];
  change: {
    version: number;
    state: 'in-review' | 'refused';
    reason: string | null;
    file: Record<string, unknown>;
  } | null;
  /** When the reviewer looks at it; null: they do not. */
  dueAt: number | null;
}

interface Account {
  id: string;
  token: string;
  name: string;
  state: 'open' | 'closed';
  callbacks: { url: string; secret: string } | null;
  applications: Application[];
}

const STATES: readonly State[] = ['in-review', 'question', 'registered', 'refused', 'withdrawn'];

/**
 * A registrar as `docs/formats/registrar.json` describes it: applications taken once for each version, a reviewer who asks, refuses,
 * takes seconds or weeks and changes their mind later, and signed callbacks that are tried until they are taken.
 */
export class SimulatedRegistrar {
  moods: RegistrarMoods = { ...USUAL };
  readonly counts = { taken: 0, refused: 0, told: 0 };
  accounts: Account[];
  readonly #telling = new Map<string, object[]>();

  constructor(
    private readonly file: string | null,
    private readonly clock: BenchClock,
  ) {
    const { accounts = [] } = kept<{ accounts: Account[] }>(file);
    this.accounts = [
      ['juniper', 'Juniper Gap Observatory'],
      ['closed', 'An account that is closed'],
      ['cedar', 'Cedar Dome'],
    ].map(([id, name]) => ({
      ...{ id: id!, token: 'bench', name: name!, state: id === 'closed' ? 'closed' : 'open' },
      ...{ callbacks: null, applications: [] },
      ...accounts.find((one) => one.id === id),
    }));
    setInterval(() => this.#review(), 200).unref();
    clock.onMove(() => this.#review());
  }

  view(): object {
    return {
      accounts: this.accounts.map(({ token: _, callbacks, ...one }) => ({
        ...one,
        called: callbacks?.url ?? null,
      })),
      ...{ moods: this.moods, ...this.counts },
    };
  }

  /** A change of mood, or the sentence that says what is wrong with it. */
  setMoods(input: Record<string, unknown>): string | null {
    for (const [name, value] of Object.entries(input)) {
      if (!(name in USUAL)) return `${name}: is no mood. There are ${Object.keys(USUAL).join(', ')}.`;
      if (name.endsWith('_after') && parseDuration(value) === null)
        return `${name}: give a duration such as P3D.`;
      if (name.endsWith('_share') && !(typeof value === 'number' && value >= 0 && value <= 1))
        return `${name}: a share lies between 0 and 1.`;
      if (name === 'reviewer' && !['usual', 'refusing', 'never'].includes(value as string))
        return 'reviewer: usual, refusing or never.';
      if (name === 'line' && !LINES.includes(value as Line)) return `line: one of ${LINES.join(', ')}.`;
    }
    this.moods = { ...this.moods, ...input } as RegistrarMoods;
    return null;
  }

  /** All it knows, with the moment it knows it. */
  written = (): object => ({ now: this.clock.now(), accounts: this.accounts });

  /** Knows what was written elsewhere, with every moment moved by whole days next to now. */
  rewrite({ now, accounts }: Record<string, unknown>): void {
    if (typeof now !== 'number' || !Array.isArray(accounts)) return;
    const by = Math.floor((this.clock.now() - now) / DAY) * DAY;
    this.accounts = (accounts as Account[]).map((account) => ({
      ...{ ...account, callbacks: null },
      applications: account.applications.map((one) => ({
        ...one,
        dueAt: one.dueAt === null ? null : one.dueAt + by,
      })),
    }));
    this.#changed();
  }

  /** The hand of the reviewer: also one that comes late. Gives what is wrong. */
  decide(reference: string, { state, reason, words, field }: Record<string, unknown>): string | null {
    const found = this.#find(reference);
    if (!found) return 'reference: no application has it.';
    if (!STATES.includes(state as State)) return `state: one of ${STATES.join(', ')}.`;
    const [account, application] = found;
    if (state === 'question') {
      if (typeof words !== 'string' || words === '') return 'words: say what is asked.';
      this.#ask(application, typeof field === 'string' ? field : '', words);
    } else application.reason = typeof reason === 'string' ? reason : null;
    this.#turn(account, application, state as State);
    // What a program has lost, its numbers lose with it.
    if (state === 'withdrawn')
      for (const one of account.applications)
        if (one.needs.includes(reference) && one.state === 'registered') {
          one.reason = 'What it rests on was withdrawn.';
          this.#turn(account, one, 'withdrawn');
        }
    return null;
  }

  #find(reference: string): [Account, Application] | null {
    for (const account of this.accounts) {
      const application = account.applications.find((one) => one.reference === reference);
      if (application) return [account, application];
    }
    return null;
  }

  #changed(): void {
    keep(this.file, { accounts: this.accounts });
  }

  #turn(account: Account, application: Application, state: State): void {
    Object.assign(application, { state, turn: application.turn + 1, dueAt: null });
    if (state === 'registered') application.reason = null;
    this.#changed();
    this.#tell(account, { kind: 'application.changed', reference: application.reference });
  }

  /** A request to the interface; `path` begins with /accounts. */
  take = (request: IncomingMessage, response: ServerResponse, path: string): Promise<void> =>
    takeAsked(request, response, {
      ...{ path, line: this.moods.line, accounts: this.accounts },
      answer: (account, method, rest, body) => this.#answer(account, `${method} ${rest}`, body),
    });

  #answer(account: Account, asked: string, body: Record<string, unknown>): Said {
    if (asked === 'GET ') {
      const seconds = (duration: string) => (parseDuration(duration) ?? 0) / 1_000;
      const { brand_after: brand, program_after: program, number_after: number } = this.moods;
      const usual = { brand: seconds(brand), program: seconds(program), number: seconds(number) };
      return [200, { id: account.id, name: account.name, state: account.state, usual_seconds: usual }];
    }
    if (asked === 'PUT /callbacks') {
      const { url, secret } = body;
      if (typeof url !== 'string' || typeof secret !== 'string')
        return problem(422, 'misshapen', 'url and secret: give both.');
      account.callbacks = { url, secret };
      this.#changed();
      return [200, { url }];
    }
    const [, method, named, rest = ''] = /^(\w+) \/applications\/([^/]+)(\/.*)?$/.exec(asked) ?? [];
    if (!named) return problem(404, 'unknown', 'There is nothing here.');
    const reference = decodeURIComponent(named);
    const application = account.applications.find((one) => one.reference === reference);
    if (method === 'PUT' && rest === '') return this.#handIn(account, reference, application, body);
    if (!application) return problem(404, 'unknown', 'No application has this reference.');
    if (method === 'GET' && rest === '') return [200, standing(application)];
    if (method === 'DELETE' && rest === '') {
      account.applications = account.applications.filter((one) => one !== application);
      this.#changed();
      return [200, null];
    }
    const key = /^\/answers\/([^/]+)$/.exec(rest)?.[1];
    if (method === 'PUT' && key) return this.#hear(account, application, decodeURIComponent(key), body);
    return problem(404, 'unknown', 'There is nothing here.');
  }

  #handIn(
    account: Account,
    reference: string,
    known: Application | undefined,
    { about, needs, version, file }: Record<string, unknown>,
  ): Said {
    if (account.state === 'closed') return problem(422, 'account-closed', 'This account registers nothing.');
    if (
      !['brand', 'program', 'number'].includes(about as string) ||
      !Number.isInteger(version) ||
      typeof file !== 'object' ||
      !file
    )
      return problem(422, 'misshapen', 'about, version and file: give all three.');
    const rests = Array.isArray(needs) ? (needs as string[]) : [];
    const through = account.applications.some(
      (one) => rests.includes(one.reference) && one.state === 'registered',
    );
    if (about !== 'brand' && !through) return problem(422, 'needs', 'What it rests on is not registered.');
    const given = file as Record<string, unknown>;
    // The same version, brought again: it is taken once.
    if (known && (known.version === version || known.change?.version === version))
      return [200, standing(known)];
    this.counts.taken++;
    const dueAt = this.clock.now() + this.#takes(about as About);
    if (known?.state === 'registered') {
      known.change = { version: version as number, state: 'in-review', reason: null, file: given };
      known.dueAt = dueAt;
      this.#changed();
      return [200, standing(known)];
    }
    const made: Application = {
      ...{ reference, about: about as About, needs: rests, version: version as number, file: given },
      ...{
        state: 'in-review',
        turn: (known?.turn ?? 0) + 1,
        reason: null,
        questions: known?.questions ?? [],
      },
      ...{ change: null, dueAt },
    };
    account.applications = [...account.applications.filter((one) => one !== known), made];
    this.#changed();
    return [201, standing(made)];
  }

  #takes(about: About): number {
    const { brand_after: brand, program_after: program, number_after: number } = this.moods;
    return parseDuration({ brand, program, number }[about]) ?? 0;
  }

  #hear(account: Account, application: Application, key: string, { words }: Record<string, unknown>): Said {
    const question = application.questions.find((one) => one.key === key);
    if (!question) return problem(404, 'unknown', 'Nothing was asked under this key.');
    if (typeof words !== 'string' || words.trim() === '')
      return problem(422, 'misshapen', 'words: say something.');
    if (question.answer !== null) return [200, standing(application)];
    question.answer = words;
    if (application.state === 'question' && application.questions.every((one) => one.answer !== null)) {
      this.#turn(account, application, 'in-review');
      application.dueAt = this.clock.now() + this.#takes(application.about);
    }
    this.#changed();
    return [200, standing(application)];
  }

  #ask(application: Application, field: string, words: string): void {
    const key = `q${application.questions.length + 1}-${randomBytes(3).toString('hex')}`;
    application.questions.push({ key, field, words, answer: null });
  }

  #review(): void {
    if (this.moods.reviewer === 'never') return;
    const now = this.clock.now();
    for (const account of this.accounts)
      for (const one of account.applications) {
        if (one.dueAt === null || one.dueAt > now) continue;
        const refuses = this.moods.reviewer === 'refusing' ? 'The reviewer refuses everything today.' : null;
        if (one.change) this.#reviewChange(account, one, refuses);
        else if (one.state === 'in-review') this.#reviewFile(account, one, refuses);
        else one.dueAt = null;
      }
  }

  #reviewFile(account: Account, one: Application, refuses: string | null): void {
    const reason = refuses ?? objection(one.about, one.file);
    if (reason !== null) {
      this.counts.refused++;
      one.reason = reason;
      return this.#turn(account, one, 'refused');
    }
    const asked = question(one.about, one.file);
    if (asked && one.questions.length === 0) {
      this.#ask(one, ...asked);
      return this.#turn(account, one, 'question');
    }
    this.#turn(account, one, 'registered');
  }

  #reviewChange(account: Account, one: Application, refuses: string | null): void {
    const { version, file } = one.change!;
    const reason = refuses ?? objection(one.about, file);
    if (reason === null) Object.assign(one, { version, file, change: null });
    else one.change = { ...one.change!, state: 'refused', reason };
    this.#turn(account, one, 'registered');
  }

  /** What comes together is told together. */
  #tell(account: Account, event: object): void {
    const { twice_share: twice, disorder_share: disorder } = this.moods;
    const one = {
      id: `e-${randomBytes(6).toString('hex')}`,
      at: new Date(this.clock.now()).toISOString(),
      ...event,
    };
    const waiting = this.#telling.get(account.id);
    const events = waiting ?? [];
    if (Math.random() < disorder) events.unshift(one);
    else events.push(one);
    if (Math.random() < twice) events.push(one);
    if (waiting) return;
    this.#telling.set(account.id, events);
    setTimeout(() => {
      this.#telling.delete(account.id);
      void tellUntilTaken(() => account.callbacks, { account: account.id, events }).then((taken) => {
        if (taken) this.counts.told += events.length;
      });
    }, 5);
  }
}

const standing = ({ reference, version, state, turn, reason, questions, change }: Application) => ({
  ...{ reference, version, state, turn, reason },
  questions: questions.filter(({ answer }) => answer === null).map(({ answer: _, ...one }) => one),
  change: change && { version: change.version, state: change.state, reason: change.reason },
});

const wordsIn = (file: Record<string, unknown>, ...fields: string[]): string =>
  fields
    .map((field) => file[field])
    .flatMap((value) => (Array.isArray(value) ? (value as unknown[]) : [value]))
    .map((value) => (typeof value === 'string' ? value : ''))
    .join(' ');

/** Why a reviewer refuses it; null: they do not. */
function objection(about: About, file: Record<string, unknown>): string | null {
  if (about === 'brand') {
    if (!file.legal_name || !file.website || !file.street)
      return 'Legal name, website and street: give all three.';
    return file.our_pages === false && !/not .*(?:share|sell|pass)/i.test(wordsIn(file, 'privacy_text'))
      ? 'The privacy page does not say that mobile data is not shared.'
      : null;
  }
  if (about === 'number') return null;
  const samples = Array.isArray(file.samples) ? (file.samples as string[]) : [];
  if (samples.length < 2) return 'Give two samples at least.';
  if (/\b(?:guaranteed|free money|winner|act now)\b/i.test(samples.join(' ')))
    return 'A sample promises what nobody can keep.';
  if (wordsIn(file, 'content').includes('voting')) return 'Politics need an account of their own.';
  return Array.isArray(file.ways) && file.ways.length > 0 ? null : 'Nobody can see how people agree.';
}

/** What a reviewer asks before they decide; null: nothing. */
function question(about: About, file: Record<string, unknown>): [field: string, words: string] | null {
  if (about === 'brand')
    return /box/i.test(wordsIn(file, 'street')) ? ['street', 'Is there a street beside the box?'] : null;
  if (about === 'number') return null;
  if (/recurring msgs/i.test(wordsIn(file, 'often')))
    return ['often', 'Where do people see the words “message frequency varies”?'];
  return wordsIn(file, 'content').includes('offers')
    ? ['content', 'What is offered, and by whom? Name two offers of the last months.']
    : null;
}
