import { HOUR } from '@/core/shared/instant';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Program, ProgramSender } from '@/db/programs/entities';
import { Registration, RegistrationQuestion } from '@/db/registration/entities';
import type { Scope } from '@/db/kit/scope';
import { connectRegistrar } from '@/services/registration/accounts';
import { answerQuestion, handIn, type Subject } from '@/services/registration/applications';
import { keepBrand, keepProgramFile } from '@/services/registration/files';
import type { ProgramFileInput } from '@/services/registration/inputs';
import type { Actor } from '@/services/kit/actor';
import { must, SENDERS, type DemoWorld } from './world';

/** From this day on numbers are registered through a registrar. */
const REGISTRAR_OPENS = 18;

const BRAND: Subject = { about: 'brand', id: '' };

/** What the house says of its programs; the last of them is still being looked at. */
const TOLD: Readonly<Record<string, Omit<ProgramFileInput, 'stamp'>>> = {
  'Clear Sky Alerts': {
    about: 'People who asked for it are told when the sky over the hill is clear and the terrace opens.',
    ...{ content: ['events', 'news'], links: true },
  },
  'Dome Members': {
    about: 'Members of the planetarium dome hear of shows and evenings for members before others do.',
    ...{ content: ['events', 'offers'], links: true },
  },
};

const SAMPLES: Readonly<Record<string, string[]>> = {
  'Clear Sky Alerts': [
    'Juniper Gap Observatory: clear tonight, the terrace opens at 8 pm. https://juniper-gap.example.org Reply STOP to stop.',
    'Juniper Gap Observatory: Saturn stands high from nine. Bring a coat and somebody who has never seen it.',
  ],
  'Dome Members': [
    'Juniper Gap Observatory: members first: seats for the autumn show. https://juniper-gap.example.org Reply STOP to stop.',
    'Juniper Gap Observatory: 10 % off in the shop for members this week.',
  ],
};

/**
 * The house registers: the business first, two programs, its numbers. One reviewer asks and is answered; the newest number is asked
 * about in the last week, and nobody has answered yet.
 */
export class Registrations {
  constructor(
    private readonly world: DemoWorld,
    private readonly workspaceId: string,
    private readonly manager: Actor,
  ) {}

  async open(day: number): Promise<void> {
    const turn: Partial<Record<number, () => Promise<void>>> = {
      [REGISTRAR_OPENS]: () => this.#begin(),
      [24]: () => this.#tell('Clear Sky Alerts'),
      [33]: () => this.#number(SENDERS[0]),
      [38]: () => this.#tell('Dome Members'),
      [45]: () => this.#answer('The members’ evening in September, and 10 % off in our own shop in October.'),
      [52]: () => this.#number(SENDERS[1]),
      [61]: () => this.#number(SENDERS[2], 'P4D'),
      [88]: () => this.#newNumber(SENDERS[3]),
      [95]: () => this.#ask(SENDERS[3]),
    };
    await turn[day]?.();
  }

  #within = <T>(work: (scope: Scope) => Promise<T>): Promise<T> => this.world.within(this.workspaceId, work);

  async #begin(): Promise<void> {
    const { world, manager } = this;
    await world.bench('PUT', '/registrar/moods', {
      ...{ brand_after: 'P3D', program_after: 'P5D', number_after: 'P2D' },
    });
    const input = { url: `${world.benchUrl}/registrar`, account: 'juniper', token: 'bench' };
    must(await this.#within((scope) => connectRegistrar(world.ctx, scope, input, manager)));
    await world.settle();
    must(
      await this.#within((scope) =>
        keepBrand(
          world.ctx,
          scope,
          {
            ...{ stamp: 0, legal_name: 'Juniper Gap Observatory Society', form: 'nonprofit' },
            ...{ tax_number: '00-0000119', website: 'https://juniper-gap.example.org' },
            about:
              'A public observatory on a hill, with a planetarium dome, a gift shop and visits of schools.',
            ...{ street: '1 Summit Road', city: 'Juniper Gap', state: 'CO', postal_code: '81200' },
            ...{ contact_name: 'Odile Farrow', contact_email: 'odile@juniper-gap.example.org' },
            ...{ contact_phone: '(719) 555-0110', our_pages: true },
          },
          manager,
        ),
      ),
    );
    await this.#hand(BRAND);
  }

  async #tell(name: string): Promise<void> {
    const { world, manager } = this;
    const { id } = await this.#program(name);
    must(
      await this.#within((scope) =>
        keepProgramFile(world.ctx, scope, id, { stamp: 0, ...TOLD[name], samples: SAMPLES[name]! }, manager),
      ),
    );
    await this.#hand({ about: 'program', id });
  }

  async #number(number: string, takes = 'P2D'): Promise<void> {
    await this.world.bench('PUT', '/registrar/moods', { number_after: takes });
    await this.#hand({ about: 'number', id: (await this.#sender(number)).id });
  }

  /** A number that was not registered anywhere before, for alerts. */
  async #newNumber(number: string): Promise<void> {
    const { id: senderId } = await this.#sender(number);
    const { id: programId } = await this.#program('Clear Sky Alerts');
    await this.#within((scope) =>
      scope.em.insert(ProgramSender, { workspaceId: this.workspaceId, programId, senderId }),
    );
    await this.#number(number, 'P21D');
  }

  async #ask(number: string): Promise<void> {
    const { id } = await this.#sender(number);
    const row = await this.#within((scope) =>
      scope.em.findOneOrFail(Registration, { about: 'number', subject: id }),
    );
    await this.world.bench('PUT', `/registrar/applications/${row.id}`, {
      ...{ state: 'question', field: 'number' },
      words: 'Where do people see the words “message frequency varies”?',
    });
    await this.world.moveTo(this.world.at + HOUR);
  }

  async #answer(words: string): Promise<void> {
    const [asked] = await this.#within((scope) => scope.em.find(RegistrationQuestion, { answer: null }));
    if (!asked) throw new Error('The reviewer was to ask something by now.');
    must(await this.#within((scope) => answerQuestion(this.world.ctx, scope, asked.id, words, this.manager)));
    await this.world.settle();
  }

  async #hand(subject: Subject): Promise<void> {
    must(await this.#within((scope) => handIn(this.world.ctx, scope, subject, this.manager)));
    await this.world.settle();
  }

  #program = (name: string): Promise<Program> =>
    this.#within((scope) => scope.em.findOneOrFail(Program, { name }));

  #sender = (number: string): Promise<SenderNumberRow> =>
    this.#within((scope) => scope.em.findOneOrFail(SenderNumberRow, { number }));
}
