import { newForm, type FormDocument } from '@/core/form/document';
import { newPoster } from '@/core/poster/document';
import { MINUTE, SECOND } from '@/core/shared/instant';
import { TRAP } from '@/core/form/page';
import { Form } from '@/db/forms/entities';
import type { Scope } from '@/db/kit/scope';
import { KeywordRow } from '@/db/programs/entities';
import { changeForm, createForm, publishForm } from '@/services/forms/forms';
import { noteSeen, takeIn } from '@/services/forms/take-in';
import { changeKeyword } from '@/services/programs/change-keyword';
import type { ChangeKeywordInput } from '@/services/programs/inputs';
import { createPoster } from '@/services/posters/posters';
import { noteLink, submitPersonalPage } from '@/services/questions/personal-link';
import { stream } from './chance';
import { makePeople, type DemoPerson } from './people';
import { must, type DemoWorld } from './world';

/** From this day on the dome asks who joins it, and a form hangs at the gate. */
export const GATE_OPENS = 49;

/** Two ways in beside the keyword alone: questions after DOME, and a form for clear nights. */
export async function furnishGate(world: DemoWorld, scope: Scope, accountId: string): Promise<void> {
  const { ctx } = world;
  const actor = { name: accountId, accountId };
  const { id, stamp } = await scope.em.findOneOrFail(KeywordRow, { word: 'dome' });
  const questions = [
    { field: 'name', words: 'What may we call you?' },
    { field: 'email', words: 'And an e-mail address for the members’ letter?' },
    { field: 'postal_code' },
  ];
  const asked = {
    stamp,
    questions,
    thanks: 'Thank you, that is all we ask.',
    link_days: 14,
    task_after: true,
  };
  must(await changeKeyword(ctx, scope, id, asked as ChangeKeywordInput, accountId));
  must(await createPoster(ctx, scope, { keyword: id, document: POSTER }, actor));
  const form = must(
    await createForm(ctx, scope, { name: 'At the gate', program: 'Clear Sky Alerts', document: FORM }, actor),
  );
  must(await publishForm(ctx, scope, form.id, form.stamp, actor));
  // Looked at, and published again with a button that says what it does.
  const document = { ...FORM, button: 'Text me on clear nights' };
  const changed = must(await changeForm(ctx, scope, form.id, { stamp: form.stamp, document }, actor));
  must(await publishForm(ctx, scope, form.id, changed.stamp, actor));
}

const POSTER = {
  ...newPoster('The dome has members'),
  ...{
    arrangement: 'band' as const,
    words: 'They see new films first, and bring a friend.',
    look: { colour: '#22405e' },
  },
};

const FORM: FormDocument = {
  ...newForm('Clear nights over the gap'),
  intro: 'Leave your number at the gate. We text when the sky clears, and never in between.',
  fields: [
    { field: 'name', label: '', help: '', required: false },
    { field: 'number', label: '', help: 'A mobile number: it gets one text to answer.', required: true },
    {
      field: 'postal_code',
      label: '',
      help: 'So that we text at a good hour where you live.',
      required: false,
    },
  ],
  thanks: 'See you under the stars.',
};

const SAID_NAME = [
  (first: string, last: string) => `${first} ${last}`,
  (first: string) => first,
  (first: string) => `I'm ${first}`,
  (first: string, last: string) => `My name is ${first} ${last}!`,
  (first: string) => first.toLowerCase(),
];
const ZIPS = ['81201', '80203', '81101', '80903-1234', 'zip 81211', 'Salida CO 81201', '8120'];
const ASIDES = ['What do you need that for?', 'Is the cafe open on Sundays?', 'Thanks!'];

/** People at the gate. They draw from a stream of their own: what they do moves nothing else in the story. */
export class Gate {
  readonly #chance = stream(505_555);
  readonly #visitors: DemoPerson[];
  #next = 0;
  #form: Form | null = null;

  constructor(
    readonly world: DemoWorld,
    readonly workspaceId: string,
    readonly people: readonly DemoPerson[],
  ) {
    const taken = new Set(people.map(({ number }) => number));
    this.#visitors = makePeople(3_300, stream(801_555)).filter(({ number }) => !taken.has(number));
  }

  /** A day at the gate: questions are answered, links opened, the form filled in. */
  async open(day: number): Promise<void> {
    await this.#answerQuestions();
    await this.#openLinks();
    const visits = 2 + Math.floor(this.#chance() * (day % 7 >= 4 ? 7 : 3));
    for (let i = 0; i < visits; i++) await this.#visit(day, i);
    await this.world.settle();
    await this.#sayYes();
  }

  /** Most answer a question within the hour, some leave it out, some say something else, and some say nothing. */
  async #answerQuestions(): Promise<void> {
    // A question after each answer: the last ones wait until tomorrow.
    for (let round = 0; round < 3; round++) {
      const open = await this.#rows<{ number: string; sender: string; field: string }>(
        `select a.address as number, s.number as sender, t.field from asking a join asking_step t on t.asking_id = a.id and t.place = a.at
           join sender_number s on s.id = a.sender_id
          where a.workspace_id = :workspace and a.state = 'open' and t.outcome is null order by a.id`,
      );
      if (open.length === 0) return;
      for (const { number, sender, field } of open) {
        const words = this.#answerTo(number, field);
        if (words !== null) await this.#texts(number, sender, words);
      }
      await this.#heard();
    }
  }

  #answerTo(number: string, field: string): string | null {
    const draw = this.#chance();
    if (draw < 0.26) return null;
    if (draw < 0.34) return 'skip';
    if (draw < 0.38) return this.#pick(ASIDES);
    const { firstName, lastName, email } = this.people.find((one) => one.number === number) ?? NOBODY;
    if (field === 'name') return this.#pick(SAID_NAME)(firstName ?? 'Ana', lastName ?? 'Northgate');
    if (field === 'email')
      return this.#pick([email ?? 'no thanks', (email ?? 'ana at').replace('@', ' at ')]);
    return this.#pick(ZIPS);
  }

  async #openLinks(): Promise<void> {
    const links = await this.#rows<{ code: string; fields: string[] }>(
      `select code, fields from personal_link where workspace_id = :workspace and opened_at is null and expires_at > :now order by id`,
      { now: new Date(this.world.at) },
    );
    for (const { code, fields } of links) {
      if (this.#chance() >= 0.4) continue;
      await noteLink(this.world.ctx, code, 'opened');
      if (this.#chance() >= 0.7) continue;
      await noteLink(this.world.ctx, code, 'begun');
      if (this.#chance() >= 0.75) continue;
      const typed = { name: 'Ana Northgate', email: `${code}@example.org`, postal_code: '81201' };
      const kept = Object.entries(typed).filter(([field]) => fields.includes(field));
      await submitPersonalPage(this.world.ctx, code, Object.fromEntries(kept));
    }
  }

  /** Somebody sees the form: they look, begin, send it, or are a machine. */
  async #visit(day: number, i: number): Promise<void> {
    const { ctx } = this.world;
    const { code } = await this.#theForm();
    const press = `gate-${day}-${i}`.padEnd(12, '-');
    const origin = { address: `198.51.100.${1 + Math.floor(this.#chance() * 250)}`, agent: 'A browser' };
    const person = this.#visitors[this.#next++ % this.#visitors.length]!;
    const typed = {
      ...{ name: [person.firstName, person.lastName].filter(Boolean).join(' '), number: person.number },
      ...{ agree: 'yes', press, drawn: String(this.world.at - 40 * SECOND) },
    };
    if (this.#chance() < 0.04) {
      await takeIn(ctx, code, { ...typed, [TRAP]: 'https://example.com' }, origin);
      return;
    }
    const see = (furthest: number) => noteSeen(ctx, code, { press, furthest });
    await see(0);
    if (this.#chance() < 0.3) return;
    await see(1);
    if (this.#chance() < 0.22) return;
    await see(2);
    const wrong = this.#chance() < 0.12 ? { ...typed, number: '555' } : null;
    if (wrong) await takeIn(ctx, code, wrong, origin);
    if (wrong && this.#chance() < 0.5) return;
    const zip: Record<string, string> = this.#chance() < 0.6 ? { postal_code: '81201' } : {};
    await see(4);
    if (this.#chance() < 0.08) return;
    const sent = await takeIn(ctx, code, { ...typed, ...zip }, origin);
    // Some names strain more than the layout: without one it goes through.
    if (sent?.status === 422) await takeIn(ctx, code, { ...typed, name: '' }, origin);
  }

  /** Four in five answer the text. */
  async #sayYes(): Promise<void> {
    const asked = await this.#rows<{ number: string; sender: string }>(
      `select s.number, n.number as sender from submission s join message m on m.person_id = s.person_id and m.kind = 'question' and m.created_at >= s.asked_at
         join sender_number n on n.id = m.sender_id
        where s.workspace_id = :workspace and s.state = 'asked' and s.asked_at > :since and m.state in ('submitted', 'no-receipt', 'delivered') order by s.id`,
      { since: new Date(this.world.at - 12 * 60 * MINUTE) },
    );
    for (const { number, sender } of asked)
      if (this.#chance() < 0.8) await this.#texts(number, sender, this.#pick(['YES', 'Yes', 'yes!', 'Y']));
    await this.#heard();
  }

  async #theForm(): Promise<Form> {
    return (this.#form ??= await this.world.within(this.workspaceId, (scope) =>
      scope.em.findOneOrFail(Form, { name: 'At the gate' }),
    ));
  }

  #rows<T extends object>(sql: string, values: Record<string, Date> = {}): Promise<T[]> {
    return this.world.within(this.workspaceId, (scope) => scope.rows<T>(sql, values));
  }

  #pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.#chance() * list.length)]!;
  }

  async #texts(number: string, to: string, body: string): Promise<void> {
    await this.world.bench('POST', '/handsets', { number });
    await this.world.bench('POST', `/handsets/${encodeURIComponent(number)}/texts`, { to, body });
  }

  async #heard(): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, 60));
    await this.world.settle();
  }
}

const NOBODY: Pick<DemoPerson, 'firstName' | 'lastName' | 'email'> = {
  ...{ firstName: null, lastName: null, email: null },
};
