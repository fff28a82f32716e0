import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { ChatAccount, ChatWording } from '@/db/chat/entities';
import { connectAccount } from '@/services/chat/accounts';
import type { ChatWordingInput } from '@/services/chat/inputs';
import { addLanguage, changeWording, createTemplate, handIn } from '@/services/chat/templates';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import type { CreateBroadcastInput } from '@/services/sends/inputs';
import { stream } from './chance';
import { makePeople } from './people';
import { must, type DemoWorld } from './world';

/** From this day on the observatory can be written to by chat. */
export const CHAT_OPENS = 50;

const NAME = '{$person.first_name :wren:field fallback=friend}';
const LEAVE = { kind: 'reply', words: 'Stop these', leaves: true };

const SKY_WEEK: Partial<ChatWordingInput> = {
  header: 'Under the dome this week',
  body: `Hi ${NAME}, Saturn stands high all week and the dome opens at eight. Shall we keep you a place?`,
  footer: 'Juniper Gap Observatory',
  buttons: [{ kind: 'reply', words: 'Keep me a place' }, { kind: 'reply', words: 'Another evening' }, LEAVE],
  samples: { first_name: 'Ada' },
};
const SKY_WEEK_ES: Partial<ChatWordingInput> = {
  header: 'Esta semana bajo la cúpula',
  body: `Hola {$person.first_name :wren:field fallback=amigo}, Saturno está alto toda la semana y la cúpula abre a las ocho. ¿Le guardamos un lugar?`,
  buttons: [
    { kind: 'reply', words: 'Guárdenme uno' },
    { kind: 'reply', words: 'Otra noche' },
    { ...LEAVE, words: 'No más' },
  ],
};
/** Plain, and about what was asked for: the first answer to an inquiry by chat. */
const FIRST_ANSWER: Partial<ChatWordingInput> = {
  body: `Hello ${NAME}, thank you for asking about a {$inquiry.kind :wren:field fallback=visit}. We read it and write back today.`,
  footer: 'Juniper Gap Observatory',
  buttons: [],
  samples: { first_name: 'Ada', kind: 'school visit' },
};
/** What a reviewer sends back. */
const LAST_CALL: Partial<ChatWordingInput> = {
  body: `Hi ${NAME}, act now: the last places under the dome are going fast.`,
  buttons: [LEAVE],
  samples: { first_name: 'Ada' },
};
/** Handed in this morning. */
const COMET: Partial<ChatWordingInput> = {
  header: 'A comet over the gap',
  body: `Hi ${NAME}, a comet can be seen with the naked eye before sunrise. We open the terrace at five on Saturday.`,
  footer: 'Juniper Gap Observatory',
  buttons: [{ kind: 'reply', words: 'I will come' }, LEAVE],
  samples: { first_name: 'Ada' },
};

const SENDS = [
  { day: 61, name: 'Saturn by chat' },
  { day: 75, name: 'The dome at eight' },
  { day: 89, name: 'Before the moon' },
];
const WORDS = [
  'Is there parking for a camper van?',
  'Can my mother sit down up there?',
  'We are four, is that fine?',
  'Which evening has no moon?',
  'Gracias, vamos el viernes',
  'See you there!',
];

/** The observatory’s chat. It draws from a stream of its own: what happens here moves nothing else in the story. */
export class Chats {
  readonly #chance = stream(602_555);
  readonly #people = makePeople(900, stream(208_555)).filter(({ firstName }) => firstName !== null);
  #next = 0;
  #template = '';

  constructor(
    readonly world: DemoWorld,
    readonly workspaceId: string,
    readonly accountId: string,
  ) {}

  /** The template by which an inquiry is answered. */
  firstAnswer = '';

  async open(day: number): Promise<void> {
    if (day === CHAT_OPENS) await this.#furnish();
    await this.#newcomers(day);
    for (const { name } of SENDS.filter((send) => send.day === day)) await this.#send(name);
  }

  /** What waits on the last morning. */
  async close(): Promise<void> {
    await this.world.bench('PUT', '/chat/moods', { review_after: 'PT9H' });
    await this.#hand('comet_terrace', 'marketing', COMET);
    await this.world.settle();
    await this.world.bench('PUT', '/chat/moods', { review_after: 'PT20S' });
  }

  #within = <T>(work: (scope: Scope) => Promise<T>): Promise<T> => this.world.within(this.workspaceId, work);
  #actor = () => ({ name: this.accountId, accountId: this.accountId });

  async #furnish(): Promise<void> {
    const { world } = this;
    const input = { url: `${world.benchUrl}/network`, account: 'juniper', token: 'bench' };
    await this.#within((scope) => connectAccount(world.ctx, scope, input, this.#actor()));
    await world.settle();
    const account = await this.#within((scope) =>
      scope.em.findOneOrFail(ChatAccount, { account: 'juniper' }),
    );
    if (account.state !== 'open') throw new Error(`The chat account is ${account.state}: ${account.trouble}`);
    this.#template = await this.#hand('sky_week', 'marketing', SKY_WEEK);
    this.firstAnswer = await this.#hand('first_answer', 'utility', FIRST_ANSWER);
    await this.#hand('last_call', 'marketing', LAST_CALL);
    await this.#within(async (scope) => {
      const spanish = must(await addLanguage(world.ctx, scope, this.#template, 'es', this.#actor()));
      must(await changeWording(world.ctx, scope, spanish.id, { stamp: 0, ...SKY_WEEK_ES }));
      must(await handIn(world.ctx, scope, spanish.id, this.#actor()));
    });
    await this.#reviewed();
  }

  async #hand(
    name: string,
    category: 'marketing' | 'utility',
    words: Partial<ChatWordingInput>,
  ): Promise<string> {
    const { ctx } = this.world;
    return this.#within(async (scope) => {
      const template = must(
        await createTemplate(ctx, scope, { name, category, language: 'en' }, this.#actor()),
      );
      const { id } = await scope.em.findOneOrFail(ChatWording, { templateId: template.id });
      must(await changeWording(ctx, scope, id, { stamp: 0, ...words }));
      must(await handIn(ctx, scope, id, this.#actor()));
      return template.id;
    });
  }

  /** The reviewer takes some seconds, and tells by itself. */
  async #reviewed(): Promise<void> {
    await this.world.settle();
    await this.world.moveTo(this.world.at + MINUTE);
    await this.#heard();
  }

  /** Some people find the chat by the sign at the gate, more of them when it is new. */
  async #newcomers(day: number): Promise<void> {
    const count = Math.floor(this.#chance() * (day - CHAT_OPENS < 10 ? 9 : 4));
    for (let i = 0; i < count; i++) {
      const person = this.#people[this.#next++];
      if (!person) return;
      // A network knows most by their number, and some by an id of its own.
      const id = this.#chance() < 0.35 ? `owl-${(7_000 + this.#next * 37).toString(36)}` : person.number;
      await this.world.bench('POST', `/handsets/${encodeURIComponent(id)}/chats`, {
        to: 'juniper',
        body: this.#chance() < 0.8 ? 'SKY' : 'sky please',
        profile: {
          name: [person.firstName, person.lastName].filter(Boolean).join(' '),
          language: this.#chance() < 0.18 ? 'es' : 'en',
        },
      });
    }
    await this.#heard();
  }

  async #send(name: string): Promise<void> {
    const { ctx } = this.world;
    await this.#within(async (scope) => {
      const input = { program: 'Clear Sky Alerts', name, channel: 'chat', chat_template: this.#template };
      const { id } = must(await createBroadcast(ctx, scope, input as CreateBroadcastInput, this.#actor()));
      must(await sendBroadcast(ctx, scope, id, {}, this.#actor()));
    });
    await this.world.settle();
    await this.world.moveTo(this.world.at + 2 * HOUR);
    const reached = await this.#within((scope) =>
      scope.rows<{ address: string; language: string | null }>(
        `select m.address, p.language from message m join person p on p.id = m.person_id
          where m.workspace_id = :workspace and m.channel = 'chat' and m.kind = 'broadcast' and m.state = 'delivered' and m.submitted_at > :since order by m.id`,
        { since: new Date(ctx.now() - DAY / 2) },
      ),
    );
    for (const { address, language } of reached) {
      const draw = this.#chance();
      const spanish = language === 'es';
      if (draw < 0.22) await this.#acts(address, { button: spanish ? 'Guárdenme uno' : 'Keep me a place' });
      else if (draw < 0.27) await this.#acts(address, { button: spanish ? 'Otra noche' : 'Another evening' });
      else if (draw < 0.32)
        await this.#acts(address, { body: WORDS[Math.floor(this.#chance() * WORDS.length)]! });
      else if (draw < 0.345) await this.#acts(address, { button: spanish ? 'No más' : 'Stop these' });
      else if (draw < 0.355)
        await this.world.bench('POST', `/handsets/${encodeURIComponent(address)}/block`, { to: 'juniper' });
    }
    await this.#heard();
    // The team has read what came by the evening.
    await this.#within((scope) =>
      scope.run(
        `update person p set waiting_since = null where p.workspace_id = :workspace and p.waiting_since is not null and p.unclear_since is null
            and exists (select 1 from inbound_text i where i.person_id = p.id and i.channel = 'chat')`,
      ),
    );
  }

  #acts = (who: string, said: object): Promise<void> =>
    this.world.bench('POST', `/handsets/${encodeURIComponent(who)}/chats`, { to: 'juniper', ...said });

  /** Until what was written has come through the door and been worked on. */
  async #heard(): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, 120));
    await this.world.settle();
  }
}
