import { FORMAT, type Line, type SequenceDocument } from '@/core/sequence/document';
import { HOUR, MINUTE } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import type { ChangeSourceInput } from '@/services/inquiries/inputs';
import { doorOf, keepArrival } from '@/services/inquiries/intake';
import { changeSource, createSource } from '@/services/inquiries/sources';
import { answerThread } from '@/services/inbox/answer-thread';
import { findProgram } from '@/services/programs/find-program';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { stream } from './chance';
import { makePeople, type DemoPerson } from './people';
import { must, type DemoWorld } from './world';

/** From this day on people ask through portals and the website. */
export const PORTALS_OPEN = 8;

interface Portal {
  name: string;
  /** Inquiries on a usual day, and what one costs in hundredths. */
  daily: number;
  cost: number | null;
  /** Of a hundred who answer back. */
  answers: number;
  says(person: DemoPerson, asked: Asked, id: number): object;
  rules: { to: string; from: string[] }[];
}

interface Asked {
  kind: 'school visit' | 'private evening';
  words: string;
}

const PORTALS: Portal[] = [
  {
    ...{ name: 'Night Sky Guide', daily: 1.3, cost: 450, answers: 0.34 },
    says: ({ number, firstName, lastName, email }, { kind, words }, id) => ({
      lead: {
        id: `NSG-${id}`,
        topic: kind === 'school visit' ? 'Class trip' : 'Private event',
        message: words,
      },
      contact: {
        full_name: [firstName, lastName].filter(Boolean).join(' '),
        phone: number,
        mail: email ?? '',
      },
    }),
    rules: [
      { to: 'full_name', from: ['/contact/full_name'] },
      { to: 'number', from: ['/contact/phone'] },
      { to: 'email', from: ['/contact/mail'] },
      { to: 'kind', from: ['/lead/topic'] },
      { to: 'words', from: ['/lead/message'] },
      { to: 'sender_id', from: ['/lead/id'] },
    ],
  },
  {
    ...{ name: 'Out With The Class', daily: 0.9, cost: 900, answers: 0.16 },
    says: ({ number, firstName, lastName, email }, { kind, words }, id) => ({
      ...{
        ref: id,
        vorname: firstName ?? '',
        last: lastName ?? '',
        tel: number.replace('+1', ''),
        email: email ?? '',
      },
      ...{ what: kind === 'school visit' ? 'school group' : 'birthday', text: words },
    }),
    rules: [
      { to: 'first_name', from: ['/vorname'] },
      { to: 'last_name', from: ['/last'] },
      { to: 'number', from: ['/tel'] },
      { to: 'email', from: ['/email'] },
      { to: 'kind', from: ['/what'] },
      { to: 'words', from: ['/text'] },
      { to: 'sender_id', from: ['/ref'] },
    ],
  },
  {
    ...{ name: 'Our website', daily: 1.1, cost: null, answers: 0.41 },
    says: ({ number, firstName, lastName, email }, { kind, words }) => ({
      ...{ name: [firstName, lastName].filter(Boolean).join(' '), mobile: number, email: email ?? '' },
      ...{ visit: kind, question: words, agree: 'yes' },
    }),
    rules: [
      { to: 'full_name', from: ['/name'] },
      { to: 'number', from: ['/mobile'] },
      { to: 'email', from: ['/email'] },
      { to: 'kind', from: ['/visit'] },
      { to: 'words', from: ['/question'] },
      { to: 'agreed', from: ['/agree'] },
    ],
  },
];

const WORDS: Record<Asked['kind'], readonly string[]> = {
  'school visit': [
    'Two classes, 52 children, in the week after the holidays. Is there a bus lot?',
    'We are doing the planets in May. What does a morning cost?',
    'Can the dome be dark at ten in the morning for third graders?',
    'Do you come to schools, too?',
  ],
  'private evening': [
    'My father turns seventy and has always wanted to see the rings.',
    'Twenty people from the office, with something to eat?',
    'A proposal under the stars. Can nobody else be there for ten minutes?',
    'Is Friday the 5th free for twelve people?',
  ],
};
const REPLIES = [
  'Yes please, what do you need from us?',
  'Friday would be perfect',
  'How much is it per child?',
  'Can we come and look first?',
  'Wonderful, thank you!',
];
const LATE_REPLIES = [
  'We lost track of this. Is it still possible?',
  'Now we know the date: the 19th!',
  'Better late than never. Yes.',
];
const BACK = [
  'Gladly. I hold the date for you until Friday.',
  'Of course. I send you the sheet by e-mail.',
  'Come by at five, I am at the gate.',
];

/** People who ask through portals. They draw from a stream of their own: what they do moves nothing else in the story. */
export class Portals {
  readonly #chance = stream(385_555);
  readonly #people = makePeople(1_400, stream(406_555)).filter(
    ({ firstName, email }) => firstName !== null && email !== null,
  );
  readonly #asked: { number: string; day: number; late: boolean }[] = [];
  #next = 0;
  #keys = new Map<string, string>();

  constructor(
    readonly world: DemoWorld,
    readonly workspaceId: string,
    readonly team: readonly string[],
  ) {}

  async open(day: number): Promise<void> {
    if (day === PORTALS_OPEN) await this.#furnish();
    await this.#askedToday(day);
    await this.#lateReplies(day);
  }

  #within = <T>(work: (scope: Scope) => Promise<T>): Promise<T> => this.world.within(this.workspaceId, work);
  #actor = () => ({ name: this.team[0]!, accountId: this.team[0]! });
  #pick = <T>(list: readonly T[]): T => list[Math.floor(this.#chance() * list.length)]!;

  async #furnish(): Promise<void> {
    const { ctx } = this.world;
    await this.#within(async (scope) => {
      const program = (await findProgram(scope, 'School & Group Visits'))!;
      const made = must(
        await createSequence(ctx, scope, { document: documentOf(program.id) }, this.#actor()),
      );
      must(await publishSequence(ctx, scope, made.id, { stamp: made.draftStamp }, this.#actor()));
      for (const { name, cost, rules } of PORTALS) {
        const source = must(
          await createSource(ctx, scope, { name, program: 'School & Group Visits' }, this.#actor()),
        );
        const change: Partial<ChangeSourceInput> = {
          mapping: { rules, kinds: KINDS, otherKind: 'question' },
          assignment: { keepsOwner: true, kinds: {}, by: 'turn', among: [...this.team], onlyOnDuty: false },
          ...{ cost_cents: cost, begins: [{ sequence: made.id, kind: '' }] },
          ...(cost === null ? { wording: 'Yes, text me about my visit and about other evenings.' } : {}),
        };
        const changed = must(
          await changeSource(ctx, scope, source.id, { stamp: 0, ...change }, this.#actor()),
        );
        this.#keys.set(name, changed.key);
      }
    });
  }

  async #askedToday(day: number): Promise<void> {
    for (const portal of PORTALS) {
      // Nothing has come from one of them for a week: somebody should ask why.
      if (portal.name === 'Out With The Class' && day > 90) continue;
      const count = Math.floor(portal.daily * (day % 7 >= 5 ? 1.6 : 0.8) + this.#chance());
      for (let i = 0; i < count; i++) await this.#ask(portal, day);
    }
  }

  async #ask(portal: Portal, day: number): Promise<void> {
    const person = this.#people[this.#next++];
    if (!person) return;
    const { ctx } = this.world;
    const kind = this.#chance() < 0.55 ? 'school visit' : 'private evening';
    const asked: Asked = { kind, words: this.#pick(WORDS[kind]) };
    const door = (await doorOf(ctx, this.#keys.get(portal.name)!))!;
    const content = JSON.parse(JSON.stringify(portal.says(person, asked, 4_000 + this.#next))) as Parameters<
      typeof keepArrival
    >[2]['content'];
    await keepArrival(ctx, door, { format: 'json', content, deliveryId: null });
    await this.world.settle();
    const draw = this.#chance();
    this.#asked.push({ number: person.number, day, late: draw > 1 - portal.answers / 4 });
    if (draw >= portal.answers) return;
    await this.world.moveTo(this.world.at + 7 * MINUTE);
    await this.#says(person.number, this.#pick(REPLIES));
  }

  /** Some write months later: that is the money the observatory thought was lost. */
  async #lateReplies(day: number): Promise<void> {
    for (const one of this.#asked.filter(({ late, day: asked }) => late && day === asked + 61 + (asked % 9)))
      await this.#says(one.number, this.#pick(LATE_REPLIES));
  }

  /** They write to the number that wrote to them, and are answered by whoever has them. */
  async #says(number: string, words: string): Promise<void> {
    const { ctx } = this.world;
    const [row] = await this.#within((scope) =>
      scope.rows<{ sender: string; id: string; owner: string | null }>(
        `select s.number as sender, p.id, p.owner_id as owner from message m join sender_number s on s.id = m.sender_id join person p on p.id = m.person_id
          where m.workspace_id = :workspace and m.address = :number order by m.created_at desc limit 1`,
        { number },
      ),
    );
    if (!row) return;
    await this.world.bench('POST', `/handsets/${number}/texts`, { to: row.sender, body: words });
    await new Promise((resolve) => setTimeout(resolve, 60));
    await this.world.settle();
    await this.world.moveTo(this.world.at + HOUR / 3);
    await this.#within((scope) =>
      answerThread(ctx, scope, row.id, this.#pick(BACK), row.owner ?? this.team[0]!),
    );
    await this.world.settle();
  }
}

const KINDS = [
  { kind: 'school visit', words: ['class trip', 'school group', 'school'] },
  { kind: 'private evening', words: ['private event', 'birthday', 'evening'] },
];

const line = (id: string, when: Line['when'], what: Line['what']): Line => ({ id, when, what, late: 'go' });

/** An answer at once, a kind word after two days, and letters for months; whoever writes back is a human’s. */
const documentOf = (program: string): SequenceDocument => ({
  ...{ format: FORMAT, name: 'After an inquiry', program, begins: [{ on: 'request' }] },
  ...{ only: null, again: { rule: 'after-end' }, grace_minutes: 0, hours: null },
  lines: [
    line(
      'a',
      { at: 'once' },
      {
        do: 'text',
        body: 'Hello {$person.first_name :wren:field fallback=there}, Juniper Gap Observatory has your question about a {$inquiry.kind :wren:field fallback=visit}. {$sender.first_name :wren:field fallback=|The team|} reads it now. {$program.ask}',
      },
    ),
    line(
      'b',
      { at: 'after', minutes: 2 * 24 * 60, from: 'before' },
      {
        do: 'email',
        subject: 'Your question about a {$inquiry.kind :wren:field fallback=visit}',
        body: 'Hello {$person.first_name :wren:field fallback=there},\n\nwe wrote to your phone on the day you asked. Here is the sheet with dates and prices, should that be easier to read. Just answer this letter.\n\nJuniper Gap Observatory',
      },
    ),
    line(
      'c',
      { at: 'after', minutes: 58 * 24 * 60, from: 'before' },
      {
        do: 'email',
        subject: 'The sky in the coming months',
        body: 'Hello {$person.first_name :wren:field fallback=there},\n\nyou once asked about a {$inquiry.kind :wren:field fallback=visit}. These are the evenings on which the dome is still free.\n\nJuniper Gap Observatory',
      },
    ),
  ],
  ends: [{ when: { on: 'reply' }, then: [] }],
});
