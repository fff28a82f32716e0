import type { Tree } from '@/core/inquiry/tree';
import type { Source } from '@/db/inquiries/entities';
import { INQUIRIES_TELL } from '@/services/inquiries/tell-teammate';
import { doorOf, keepArrival, type Came } from '@/services/inquiries/intake';
import { changeSource, createSource } from '@/services/inquiries/sources';
import { ARRIVAL_QUEUE } from '@/services/inquiries/take-arrival';
import { NOTICES_FOLLOW } from '@/services/inbox/notices';
import type { ChangeSourceInput } from '@/services/inquiries/inputs';
import { follow } from '@/services/kit/happenings';
import { workThrough } from '@/services/kit/trouble';
import { createProgram } from '@/services/programs/create-program';
import type { CreateProgramInput } from '@/services/programs/inputs';
import { must } from './people';
import type { World } from './world';

const ME = { name: 'test', accountId: null };

/** What a portal of the tests sends, and how it is mapped. */
export const MAPPING = {
  rules: [
    { to: 'number', from: ['/phone'] },
    { to: 'email', from: ['/mail'] },
    { to: 'full_name', from: ['/name'] },
    { to: 'kind', from: ['/about'] },
    { to: 'words', from: ['/text'] },
    { to: 'sender_id', from: ['/id'] },
    { to: 'agreed', from: ['/agree'] },
  ],
  kinds: [
    { kind: 'school visit', words: ['class trip'] },
    { kind: 'private evening', words: ['birthday'] },
  ],
  otherKind: 'question',
};

/** Inquiries as they come: sources made, things brought to their doors, and what follows carried out. */
export class InquiryDesk {
  constructor(readonly world: () => World) {}

  /** A program for inquiries, with the number of the world. */
  program = async (more: Partial<CreateProgramInput> = {}): Promise<string> => {
    const { ctx, within } = this.world();
    return must(
      await within((scope) =>
        createProgram(
          ctx,
          scope,
          {
            name: 'School & Group Visits',
            purpose: 'inquiry',
            promise: { count: 4, period: 'month' },
            ...more,
          } as CreateProgramInput,
          'test',
        ),
      ),
    ).id;
  };

  source = async (more: Partial<ChangeSourceInput> = {}, name = 'Night Sky Guide'): Promise<Source> => {
    const { ctx, within } = this.world();
    return within(async (scope) => {
      const made = must(await createSource(ctx, scope, { name, program: 'School & Group Visits' }, ME));
      return must(await changeSource(ctx, scope, made.id, { stamp: 0, mapping: MAPPING, ...more }, ME));
    });
  };

  /** Brings something to a door, as the web process does. */
  bring = async (source: Pick<Source, 'key'>, content: Tree, more: Partial<Came> = {}): Promise<void> => {
    const { ctx } = this.world();
    const door = await doorOf(ctx, source.key);
    if (!door) throw new Error('There is no such door');
    await keepArrival(ctx, door, { format: 'json', content, deliveryId: null, ...more });
  };

  /** The worker reads what came, and teammates are told. */
  work = async (): Promise<void> => {
    const { ctx } = this.world();
    while ((await workThrough(ctx, ARRIVAL_QUEUE)) > 0);
    await follow(ctx, NOTICES_FOLLOW);
    await follow(ctx, INQUIRIES_TELL);
  };

  arrivals = () =>
    this.world().rows<{ id: string; state: string; because: string | null; inquiry_id: string | null }>(
      `select id, state, because, inquiry_id from arrival where workspace_id = :workspace order by at, id`,
    );
  inquiries = () =>
    this.world().rows<{
      id: string;
      kind: string;
      words: string;
      person_id: string;
      account_id: string | null;
      because: string;
      twin_of: string | null;
      held: string | null;
      told: string[];
    }>(
      `select id, kind, words, person_id, account_id, because, twin_of, held, told from inquiry where workspace_id = :workspace order by at, id`,
    );
  people = () =>
    this.world().rows<{
      id: string;
      number: string | null;
      email: string | null;
      first_name: string | null;
      last_name: string | null;
      owner_id: string | null;
      source: string;
    }>(
      `select id, number, email, first_name, last_name, owner_id, source from person where workspace_id = :workspace order by id`,
    );
  consents = () =>
    this.world().rows<{ channel: string; address: string; state: string; method: string }>(
      `select c.channel, c.address, c.state, e.method from consent_state c join consent_event e on e.id = c.event_id where c.workspace_id = :workspace order by 1, 2`,
    );
}
