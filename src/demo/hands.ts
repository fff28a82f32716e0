import type { Condition } from '@/core/audience/condition';
import { DAY, HOUR, MINUTE, SECOND } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { addField } from '@/services/audience/own-fields';
import { answerThread } from '@/services/inbox/answer-thread';
import { giveThread, noteOnThread, putOff } from '@/services/inbox/whose';
import type { Actor } from '@/services/kit/actor';
import { editPerson } from '@/services/people/edit-person';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { press, openDesk, skip } from '@/services/stacks/press';
import { readStacks } from '@/services/stacks/screen';
import { splitSend } from '@/services/stacks/split';
import { createTemplate } from '@/services/templates/templates';
import { must, type DemoWorld } from './world';

/** From this day on the team has prepared answers, and asks itself two facts beside threads. */
export const ANSWERS_KEPT = 35;
/** The afternoon on which a broadcast is pressed by hand. */
export const BY_HAND = 82;

const NAME = '{$person.first_name :wren:field fallback=|there|}';

/** Prepared answers: what people ask, and what is said. */
const PREPARED: { question: string; name: string; body: string; asked: RegExp }[] = [
  {
    question: 'When does it end?',
    name: 'Hours',
    body: `Hi ${NAME}, doors open at five and the last tour leaves at nine.`,
    asked: /what time|open that late|until when/i,
  },
  {
    question: 'Is there parking?',
    name: 'Parking',
    body: `Hi ${NAME}, there is parking at the top. The last bend is steep: take it slowly.`,
    asked: /parking|drive|gate/i,
  },
  {
    question: 'Do I need to book?',
    name: 'Booking',
    body: `Hi ${NAME}, no booking needed. Just come along, and dress warmly.`,
    asked: /book|places|cold/i,
  },
  {
    question: 'May children or dogs come along?',
    name: 'Children and dogs',
    body: `Hi ${NAME}, children of every age are welcome. Dogs wait on the terrace, with water.`,
    asked: /kids|dog|pushchair|children/i,
  },
  {
    question: 'Is it wheelchair accessible?',
    name: 'Ramp',
    body: `Hi ${NAME}, yes. The ramp is on the north side: ring, and we help you up.`,
    asked: /wheelchair|ramp/i,
  },
];

const INVITED = ['Yes, save us two chairs', 'We would love to, is there parking at the top?', 'Friday works'];
const DECLINED = ['Not this time, we are away', 'Sorry, my night shift', 'No thanks, too cold for me'];

/** What the team keeps to answer with. */
export async function furnishAnswers(
  { ctx }: DemoWorld,
  scope: Scope,
  me: { name: string; accountId: string },
): Promise<void> {
  for (const { name, question, body } of PREPARED)
    must(await createTemplate(ctx, scope, { name, question, body, folder: 'Answers' }, me));
  must(
    await addField(
      ctx,
      scope,
      {
        label: 'Comes to the star party',
        kind: 'one-of',
        options: ['yes', 'perhaps', 'no'],
        noted: true,
      },
      me.accountId,
    ),
  );
  must(await addField(ctx, scope, { label: 'Brings how many', kind: 'number', noted: true }, me.accountId));
}

/** What a teammate says to words like these: a prepared answer where one fits. Null: none does. */
export async function preparedFor(scope: Scope, words: string): Promise<{ id: string; body: string } | null> {
  const one = PREPARED.find(({ asked }) => asked.test(words));
  if (!one) return null;
  const [row] = await scope.rows<{ id: string }>(
    `select id from template where workspace_id = :workspace and name = :name`,
    { name: one.name },
  );
  return row ? { id: row.id, body: one.body.replace(`Hi ${NAME}, `, 'Hi! ') } : null;
}

interface Evening {
  world: DemoWorld;
  workspaceId: string;
  manager: Actor & { accountId: string };
  /** Teammates who press, by account. */
  team: readonly string[];
}

/** Three teammates and a volunteer invite whoever wrote this season to the star party, one press at a time. */
export async function pressByHand(evening: Evening): Promise<void> {
  const { world, workspaceId, manager, team } = evening;
  const send = await world.within(workspaceId, (scope) => inviteByHand(world, scope, manager));
  await world.settle();
  await world.within(workspaceId, async (scope) =>
    must(
      await splitSend(
        world.ctx,
        scope,
        send,
        {
          how: 'evenly',
          holders: [...team.map((account) => ({ account })), { guest: 'Iris, volunteer', hours: 12 }],
        },
        manager,
      ),
    ),
  );
  const stacks = await world.within(workspaceId, async (scope) =>
    (await readStacks(scope, send, world.at))!.stacks.map(({ id, account_id: accountId }) => ({
      id,
      accountId,
    })),
  );
  for (let round = 0; round < 60; round++) {
    const pressed = await pressOnce(
      evening,
      stacks.map(({ id }) => id),
      round,
    );
    await world.moveTo(world.at + 20 * SECOND);
    if (!pressed) break;
  }
  await world.moveTo(world.at + 25 * MINUTE);
  await answersCome(evening, send);
  await world.moveTo(world.at + 2 * HOUR);
}

async function inviteByHand({ ctx }: DemoWorld, scope: Scope, me: Actor): Promise<string> {
  const replied: Condition = { ask: 'did', has: true, act: 'replied', of: {}, days: 60 };
  const made = must(
    await createBroadcast(
      ctx,
      scope,
      {
        program: 'Clear Sky Alerts',
        name: 'Star party, by hand',
        body: `Juniper Gap Observatory: Hi ${NAME}, you wrote to us this season. Shall I save you a chair at the star party on Friday? Reply STOP to stop.`,
        audience: JSON.stringify(replied),
        pace: { hands: true },
      },
      me,
    ),
  );
  must(await sendBroadcast(ctx, scope, made.id, {}, me));
  return made.id;
}

/** Some presses on each desk, now and then somebody passed over. False: nobody is left to press. */
async function pressOnce(
  { world, workspaceId }: Evening,
  stacks: readonly string[],
  round: number,
): Promise<boolean> {
  let any = false;
  for (const [i, stack] of stacks.entries())
    await world.within(workspaceId, async (scope) => {
      const desk = await openDesk(world.ctx, scope, stack);
      // The volunteer leaves early: what is left of that stack waits for somebody to take it.
      if (!desk || desk.next.length === 0 || (i === stacks.length - 1 && round > 2)) return;
      any = true;
      const [first, ...rest] = desk.next.map(({ id }) => id);
      const skips = round === 1 && i === 0;
      if (skips)
        must(
          await skip(world.ctx, scope, stack, {
            message: first!,
            why: 'coming anyway, told me at the counter',
          }),
        );
      must(
        await press(world.ctx, scope, stack, { messages: (skips ? rest : [first!, ...rest]).slice(0, 6) }),
      );
    });
  return any;
}

/** Half an hour later people answer; those who pressed answer back and note what they learn. */
async function answersCome({ world, workspaceId, team }: Evening, send: string): Promise<void> {
  const reached = await world.within(workspaceId, (scope) =>
    scope.rows<{ number: string; sender: string; person_id: string }>(
      `select m.address as number, s.number as sender, m.person_id from message m join sender_number s on s.id = m.sender_id
        where m.workspace_id = :workspace and m.send_id = :send and m.state = 'delivered' order by m.address`,
      { send },
    ),
  );
  const talks: { personId: string; comes: boolean; words: string }[] = [];
  for (const { number, sender, person_id: personId } of reached) {
    const draw = world.chance();
    if (draw > 0.45) continue;
    const comes = draw < 0.3;
    const words = world.pick(comes ? INVITED : DECLINED);
    await world.bench('POST', `/handsets/${number}/texts`, { to: sender, body: words });
    talks.push({ personId, comes, words });
  }
  await new Promise((resolve) => setTimeout(resolve, 60));
  await world.moveTo(world.at + 8 * MINUTE);
  // Some of them wait for a fact until somebody has time, and a few for their answer.
  for (const { personId, comes, words } of talks) {
    if (world.chance() < 0.12) continue;
    const account = world.pick(team);
    await world.within(workspaceId, async (scope) => {
      const prepared = await preparedFor(scope, words);
      const body =
        prepared?.body ?? (comes ? 'Lovely, your chair is kept.' : 'Another time then. Clear skies!');
      const answered = await answerThread(world.ctx, scope, personId, body, account, {
        preparedId: prepared?.id ?? null,
      });
      if (!answered.ok) return;
      await editPerson(
        world.ctx,
        scope,
        personId,
        'own.comes_to_the_star_party',
        comes ? 'yes' : 'no',
        account,
      );
      if (comes)
        await editPerson(
          world.ctx,
          scope,
          personId,
          'own.brings_how_many',
          String(1 + Math.floor(world.chance() * 4)),
          account,
        );
      if (comes && world.chance() < 0.12)
        await noteOnThread(
          world.ctx,
          scope,
          personId,
          'Brings an own telescope: keep a place on the terrace. @June',
          {
            name: account,
            accountId: account,
          },
        );
    });
    await world.moveTo(world.at + MINUTE);
  }
}

/** What is open when the demo is: threads given, one put off until Monday, a note that calls a teammate. */
export async function leaveOpen({ world, workspaceId, manager, team }: Evening): Promise<void> {
  const waiting = await world.within(workspaceId, (scope) =>
    scope.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and waiting_since is not null and unclear_since is null order by waiting_since desc limit 8`,
    ),
  );
  for (const [i, { id }] of waiting.entries())
    await world.within(workspaceId, async (scope) => {
      if (i % 3 === 0) must(await giveThread(world.ctx, scope, id, team[i % team.length]!, manager));
      if (i === 1) must(await putOff(world.ctx, scope, id, world.at + 3 * DAY, manager));
      if (i === 2)
        must(
          await noteOnThread(
            world.ctx,
            scope,
            id,
            'Comes every winter with a class. @Tess knows the teacher.',
            manager,
          ),
        );
    });
}
