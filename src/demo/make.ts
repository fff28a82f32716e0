import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { acceptNearMiss, answerThread, closeThread } from '@/services/inbox/answer-thread';
import type { Scope } from '@/db/kit/scope';
import { lastInbound } from '@/services/inbox/thread';
import { recordConsent } from '@/services/consent/record-consent';
import { followLink } from '@/services/links/follow-link';
import { leaveByToken } from '@/services/email/leave';
import { findProgram } from '@/services/programs/find-program';
import { createPerson } from '@/services/people/create-person';
import { makePeople, type DemoPerson } from './people';
import {
  ANSWERS,
  BROADCASTS,
  KEYWORDS,
  LETTER_ANSWERS,
  LETTERS,
  MISSPELLED,
  OPT_OUTS,
  REPLIES,
  type StoryBroadcast,
  type StoryLetter,
  worded,
} from './story';
import { jpegOf, keepItems, keepPictures, SEEN } from './pictures';
import type { CreateBroadcastInput } from '@/services/sends/inputs';
import { foundObservatory, foundRovingDome, must, SENDERS, TEAM, type DemoWorld } from './world';
import { Broadcast } from '@/db/sends/entities';
import { keepSegments } from './segments';
import { SEGMENT_QUEUE } from '@/services/audience/segment-counts';
import { workThrough } from '@/services/kit/trouble';
import { furnishGate, Gate, GATE_OPENS } from './gate';
import { furnishShop, Shop } from './shop';
import { ANSWERS_KEPT, BY_HAND, furnishAnswers, leaveOpen, preparedFor, pressByHand } from './hands';
import { CHAT_OPENS, Chats } from './chats';
import { Portals, PORTALS_OPEN } from './portals';
import { Registrations } from './registrations';
import { Voices, VOICES_OPEN } from './voices';
import { DOME_REPLIES, publishDomeSeries, workTasks, WRITE_BACK } from './sequences';

const DAYS = 98;
/** The day on which the team keeps its cuts: long enough ago that they were counted a week ago. */
const SEGMENTS_KEPT = 84;
/** So many days back nobody has looked at near misses. */
const UNSEEN = 12;
const FOUNDERS = 640;
const PEOPLE = 2_400;

interface Story {
  world: DemoWorld;
  workspaceId: string;
  accounts: Record<string, string>;
  people: DemoPerson[];
  /** Index of the next person who has not come yet. */
  next: number;
  start: number;
  /** Pictures of the house, by name. */
  pictures: Record<string, string>;
}

/** Plays fourteen weeks. `start` is noon in Denver of the first day. */
export async function playStory(
  world: DemoWorld,
  start: number,
  tell: (line: string) => void,
): Promise<void> {
  const { workspaceId, accounts } = await foundObservatory(world);
  const roving = await foundRovingDome(world);
  await world.bench('PUT', '/carrier/faults', { receipt_latency_ms: 2 });
  const story: Story = {
    world,
    workspaceId,
    accounts,
    people: makePeople(PEOPLE, () => world.chance()),
    next: 0,
    start,
    pictures: {},
  };
  story.pictures = await world.within(workspaceId, (scope) => keepPictures(world, scope, managerOf(story)));
  await setWeakPhones(story);
  await bringFounders(story);
  await world.within(workspaceId, (scope) => publishDomeSeries(world.ctx, scope, managerOf(story)));
  await bringVisitors(story);
  await world.within(workspaceId, (scope) => furnishShop(world, scope, managerOf(story).accountId));
  const shop = new Shop(world, workspaceId, accounts['counterPip Dovecote']!);
  const gate = new Gate(world, workspaceId, story.people);
  const chats = new Chats(world, workspaceId, managerOf(story).accountId);
  const voices = new Voices(world, workspaceId, accounts);
  const portals = new Portals(world, workspaceId, teamOf(accounts));
  const registrations = new Registrations(world, workspaceId, managerOf(story));
  for (let day = 0; day < DAYS; day++) {
    await world.moveTo(start + day * DAY - 2 * HOUR);
    if (day === GATE_OPENS)
      await world.within(workspaceId, (scope) => furnishGate(world, scope, managerOf(story).accountId));
    await keywordsOfTheDay(story, day);
    if (day >= GATE_OPENS) await gate.open(day);
    if (day === 90) await spoilNumber(story);
    if (day === SEGMENTS_KEPT) await cutPeople(story);
    for (const broadcast of BROADCASTS.filter((one) => one.day === day)) await sendAndHear(story, broadcast);
    for (const letter of LETTERS.filter((one) => one.day === day)) await mailAndHear(story, letter);
    await hearSeries(story, day);
    await shop.open(day);
    if (day >= PORTALS_OPEN) await portals.open(day);
    if (day >= CHAT_OPENS) await chats.open(day);
    if (day >= VOICES_OPEN) await voices.open(day);
    await registrations.open(day);
    if (day === ANSWERS_KEPT)
      await world.within(workspaceId, (scope) => furnishAnswers(world, scope, managerOf(story)));
    if (day === BY_HAND) await pressByHand(eveningOf(story));
    while ((await workThrough(world.ctx, SEGMENT_QUEUE)) > 0);
    if (day % 7 === 6) tell(`week ${(day + 1) / 7} of 14, ${story.next} people`);
  }
  await world.within(workspaceId, (scope) => keepItems(world, scope, managerOf(story)));
  await voices.close();
  await chats.close();
  await rove(world, roving);
  await world.moveTo(start + DAYS * DAY - 1.5 * HOUR);
  await leaveOpen(eveningOf(story));
}

const teamOf = (accounts: Record<string, string>) =>
  TEAM.filter(({ role }) => role === 'teammate').map((one) => accounts[one.role + one.name]!);

const eveningOf = (story: Story) => ({
  world: story.world,
  workspaceId: story.workspaceId,
  manager: managerOf(story),
  team: teamOf(story.accounts),
});

const managerOf = ({ accounts }: Story) => {
  const accountId = accounts['managerMarek Holloway']!;
  return { name: accountId, accountId };
};

/** Whom the series reached since yesterday: some write back, and are answered; the last day's wait for today. */
async function hearSeries(story: Story, day: number): Promise<void> {
  const { world, workspaceId, start } = story;
  const since = new Date(start + (day - 1) * DAY);
  const reached = await world.within(workspaceId, (scope) =>
    scope.rows<{ number: string; sender: string; line: string }>(
      `select m.address as number, s.number as sender, split_part(m.step_id, '.', 2) as line from message m join sender_number s on s.id = m.sender_id
        where m.workspace_id = :workspace and m.enrolment_id is not null and m.state = 'delivered' and m.submitted_at > :since and m.submitted_at <= :now order by m.id`,
      { since, now: new Date(start + day * DAY) },
    ),
  );
  for (const { number, sender, line } of reached) {
    if (world.chance() < 0.004) await sendIn(world, number, world.pick(OPT_OUTS), sender);
    else if (world.chance() < (WRITE_BACK[line] ?? 0))
      await sendIn(world, number, world.pick(DOME_REPLIES), sender);
  }
  await heard(world);
  await world.settle();
  const chooser = { chance: () => world.chance(), pick: (list: readonly string[]) => world.pick(list) };
  await world.within(workspaceId, (scope) =>
    workTasks(world.ctx, scope, chooser, ANSWERS, day >= DAYS - 2 ? 0.6 : 0.02),
  );
  await world.settle();
}

async function cutPeople({ world, workspaceId, accounts }: Story): Promise<void> {
  const accountId = accounts['managerMarek Holloway']!;
  await world.within(workspaceId, async (scope) => {
    const missed = await scope.em.findOneOrFail(Broadcast, { name: 'Saturn week' });
    await keepSegments(world.ctx, scope, missed.id, { name: accountId, accountId });
  });
}

/** Phones that are off, gone or cannot: the share any list has. */
async function setWeakPhones({ world, people }: Story): Promise<void> {
  for (const { number } of people) {
    const draw = world.chance();
    const behaviour =
      draw < 0.012 ? 'unknown-number' : draw < 0.03 ? 'off' : draw < 0.037 ? 'landline' : null;
    if (behaviour) await world.bench('POST', '/handsets', { number, behaviour });
  }
}

/** People who had agreed on paper before the first day. */
async function bringFounders(story: Story): Promise<void> {
  const { world, workspaceId, accounts } = story;
  for (; story.next < FOUNDERS; story.next++) {
    const person = story.people[story.next]!;
    const program = world.chance() < 0.7 ? 'Clear Sky Alerts' : 'Dome Members';
    await world.within(workspaceId, async (scope) => {
      const made = must(
        await createPerson(
          world.ctx,
          scope,
          {
            ...nameOf(person),
            ...(person.email ? { email: person.email } : {}),
            number: person.number,
            consent: {
              program,
              wording: `I agree to get texts from Juniper Gap Observatory: ${program}. Msg & data rates may apply. Reply STOP to stop.`,
              source: 'paper form at the ticket desk',
            },
          },
          accounts['managerMarek Holloway']!,
        ),
      );
      if (made.email && program === 'Dome Members') await agreeByMail(story, scope, made.id, made.email);
    });
  }
}

/** The paper form has a second box: letters to members. */
async function agreeByMail(
  { world, accounts }: Story,
  scope: Scope,
  personId: string,
  address: string,
): Promise<void> {
  const program = await findProgram(scope, 'Dome Members');
  await recordConsent(world.ctx, scope, {
    ...{ personId, programId: program!.id, channel: 'email', address, kind: 'opted-in', method: 'by-hand' },
    evidence: {
      wording: 'Send me the members’ letter by e-mail. I can leave with one click.',
      source: 'paper form at the ticket desk',
      recordedBy: accounts['managerMarek Holloway']!,
    },
  });
}

async function bringVisitors(story: Story): Promise<void> {
  const { world, workspaceId, accounts } = story;
  for (let i = 0; i < 60; i++, story.next++) {
    const person = story.people[story.next]!;
    const program = i % 2 ? 'Night Walk Reminders' : 'School & Group Visits';
    await world.within(workspaceId, async (scope) =>
      must(
        await createPerson(
          world.ctx,
          scope,
          {
            ...nameOf(person),
            number: person.number,
            fields:
              i % 2 ? { visit: 'Night walk' } : { inquiry: world.pick(['School visit', 'Private evening']) },
            consent: { program, wording: 'You may text me about this visit.', source: 'by phone' },
          },
          accounts['teammateTess Nightjar']!,
        ),
      ),
    );
  }
}

const nameOf = ({ firstName, lastName }: DemoPerson) => ({
  ...(firstName ? { first_name: firstName } : {}),
  ...(lastName ? { last_name: lastName } : {}),
});

const sendIn = (world: DemoWorld, from: string, body: string, to: string = SENDERS[0]): Promise<void> =>
  world.bench('POST', `/handsets/${from}/texts`, { to, body });

/** Somebody sends what they saw. */
const pictureIn = async (world: DemoWorld, from: string, to: string): Promise<void> =>
  world.bench('POST', `/handsets/${from}/pictures`, {
    ...{ to, body: 'Is this it? Seen from our yard.' },
    files: [{ name: 'yard.jpg', type: 'image/jpeg', content: (await jpegOf(SEEN)).toString('base64') }],
  });

/** Waits until the application has stored what handsets sent, then lets the answers go out. */
async function heard(world: DemoWorld): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, 60));
  await world.settle();
}

async function keywordsOfTheDay(story: Story, day: number): Promise<void> {
  const { world, workspaceId, accounts } = story;
  const left = story.people.length - story.next;
  const joining = Math.min(left, Math.round((left / (DAYS - day)) * (0.6 + world.chance() * 0.8)));
  const misses: string[] = [];
  for (let i = 0; i < joining; i++, story.next++) {
    const { number } = story.people[story.next]!;
    const draw = world.chance();
    const keyword = draw < 0.55 ? KEYWORDS[0]! : draw < 0.77 ? KEYWORDS[1]! : KEYWORDS[2]!;
    const wrong = keyword.word === 'METEOR' && world.chance() < 0.14;
    if (wrong) misses.push(number);
    await sendIn(
      world,
      number,
      wrong
        ? world.pick(MISSPELLED)
        : world.pick([keyword.word, keyword.word.toLowerCase(), `${keyword.word}.`, `"${keyword.word}"`]),
    );
  }
  await heard(world);
  await world.moveTo(world.at + 20 * MINUTE);
  await learnNames(story, joining);
  // Those of the last days nobody has looked at yet.
  for (const number of day < DAYS - UNSEEN ? misses : []) {
    const id = await personId(story, number);
    if (id)
      await world.within(workspaceId, (scope) =>
        acceptNearMiss(world.ctx, scope, id, accounts['teammateJune Oakhanger']!),
      );
  }
  await world.settle();
}

/** Teammates complete records of people who joined with a number only. */
async function learnNames({ world, workspaceId, people, next }: Story, joined: number): Promise<void> {
  await world.within(workspaceId, async (scope) => {
    for (const { number, firstName, lastName } of people.slice(next - joined, next)) {
      if (firstName)
        await scope.run(
          `update person set first_name = :firstName, last_name = :lastName where workspace_id = :workspace and number = :number`,
          { number, firstName, lastName },
        );
    }
  });
}

async function personId({ world, workspaceId }: Story, number: string): Promise<string | null> {
  const [row] = await world.within(workspaceId, (scope) =>
    scope.rows<{ id: string }>(`select id from person where workspace_id = :workspace and number = :number`, {
      number,
    }),
  );
  return row?.id ?? null;
}

/** The first number's texts are blocked more and more: its standing drops. */
async function spoilNumber({ world, workspaceId }: Story): Promise<void> {
  const rows = await world.within(workspaceId, (scope) =>
    scope.rows<{ number: string }>(
      `select distinct p.number from sender_assignment a join person p on p.id = a.person_id join sender_number s on s.id = a.sender_id
        where a.workspace_id = :workspace and s.number = '${SENDERS[1]}' order by p.number`,
    ),
  );
  // Fewer than twenty in one broadcast, else delivery would pause it by itself.
  const chosen = rows.filter(() => world.chance() < 0.12).slice(0, 18);
  for (const { number } of chosen)
    await world.bench('POST', '/handsets', { number, behaviour: 'spam-blocked' });
}

function inputOf(
  message: StoryBroadcast | StoryLetter,
  pictures: Record<string, string>,
): CreateBroadcastInput {
  const { program, name, body, others = [], picture } = message;
  return {
    ...{ program, name, body },
    ...('subject' in message ? { channel: message.channel, subject: message.subject } : {}),
    ...(others.length > 0
      ? { comparison: { others: others.map(({ text }) => ({ body: worded(text) })), by: 'replies' } }
      : {}),
    ...(picture ? { media: [pictures[picture]!] } : {}),
  };
}

/** Sends at its hour, and lets it arrive. */
async function sendNow(
  { world, workspaceId, accounts, start, pictures }: Story,
  message: StoryBroadcast | StoryLetter,
  by: string,
): Promise<string> {
  const actor = { name: accounts[by]!, accountId: accounts[by]! };
  await world.moveTo(start + message.day * DAY + message.hour * HOUR);
  const id = await world.within(workspaceId, async (scope) => {
    const made = must(await createBroadcast(world.ctx, scope, inputOf(message, pictures), actor));
    must(await sendBroadcast(world.ctx, scope, made.id, {}, actor));
    return made.id;
  });
  await world.settle();
  return id;
}

async function sendAndHear(story: Story, broadcast: StoryBroadcast): Promise<void> {
  const { world, workspaceId } = story;
  const id = await sendNow(story, broadcast, 'managerMarek Holloway');
  await world.moveTo(world.at + 25 * MINUTE);
  const reached = await world.within(workspaceId, (scope) =>
    scope.rows<{
      number: string;
      sender: string;
      person_id: string;
      wording: number | null;
      code: string | null;
    }>(
      `select t.address as number, s.number as sender, t.person_id, t.wording, (select l.code from short_link l where l.message_id = t.id order by l.code limit 1) as code
         from message t join sender_number s on s.id = t.sender_id
        where t.workspace_id = :workspace and t.send_id = :id and t.state = 'delivered' order by t.address`,
      { id },
    ),
  );
  const replied: string[] = [];
  for (const { number, sender, person_id: person, wording, code } of reached) {
    const replyShare = broadcast.others?.[(wording ?? 0) - 1]?.replyShare ?? broadcast.replyShare;
    if (code && broadcast.clickShare && world.chance() < broadcast.clickShare)
      await followLink(world.ctx, { code, agent: BROWSER, head: false, from: person });
    const draw = world.chance();
    if (draw < broadcast.optOutShare) await sendIn(world, number, world.pick(OPT_OUTS), sender);
    else if (draw < broadcast.optOutShare + replyShare) {
      if (replied.length < (broadcast.picturesBack ?? 0)) await pictureIn(world, number, sender);
      else await sendIn(world, number, world.pick(REPLIES), sender);
      replied.push(person);
    }
  }
  await heard(world);
  await world.moveTo(world.at + 35 * MINUTE);
  for (const person of replied) await answer(story, person);
  await world.settle();
}

async function mailAndHear(story: Story, letter: StoryLetter): Promise<void> {
  const { world, workspaceId } = story;
  const id = await sendNow(story, letter, 'ownerOdile Farrow');
  await world.moveTo(world.at + 3 * HOUR);
  const reached = await world.within(workspaceId, (scope) =>
    scope.rows<{ address: string; token: string; code: string | null; person_id: string }>(
      `select t.address, e.token, l.code, t.person_id from message t join mail e on e.message_id = t.id left join short_link l on l.message_id = t.id
        where t.workspace_id = :workspace and t.send_id = :id and t.state = 'delivered' order by t.address`,
      { id },
    ),
  );
  const answered: string[] = [];
  for (const { address, token, code, person_id: person } of reached) {
    const draw = world.chance();
    if (code && world.chance() < letter.clickShare)
      await followLink(world.ctx, { code, agent: BROWSER, head: false, from: person });
    if (draw < letter.optOutShare) await leaveByToken(world.ctx, token, 'one-click', false);
    else if (draw < letter.optOutShare + letter.replyShare) {
      await world.answerMail(address, world.pick(LETTER_ANSWERS));
      answered.push(person);
    }
  }
  await heard(world);
  await world.moveTo(world.at + 50 * MINUTE);
  for (const person of answered) await answer(story, person);
  await world.settle();
}

const BROWSER = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';

async function answer({ world, workspaceId, accounts }: Story, personId: string): Promise<void> {
  const { name, role } = world.pick(TEAM.filter((one) => one.role === 'teammate'));
  const account = accounts[role + name]!;
  await world.within(workspaceId, async (scope) => {
    const said = await lastInbound(scope, personId);
    const prepared = await preparedFor(scope, said?.body ?? '');
    const words = world.pick(ANSWERS);
    const answered =
      world.chance() < 0.75
        ? await answerThread(world.ctx, scope, personId, prepared?.body ?? words, account, {
            preparedId: prepared?.id ?? null,
          })
        : null;
    if (!answered?.ok) await closeThread(world.ctx, scope, personId, account);
  });
}

async function rove(world: DemoWorld, workspaceId: string): Promise<void> {
  for (const number of ['+15055550150', '+15755550151', '+19285550152'])
    await sendIn(world, number, 'rove', '+15055550110');
  await heard(world);
  await world.within(workspaceId, async (scope) => {
    const made = must(
      await createBroadcast(
        world.ctx,
        scope,
        {
          program: 'Where the Dome Stands',
          name: 'At the county fair',
          body: 'Roving Dome: this week we stand at the county fair. Reply STOP to stop.',
        },
        { name: 'demo', accountId: null },
      ),
    );
    must(await sendBroadcast(world.ctx, scope, made.id, {}, { name: 'demo', accountId: null }));
  });
  await world.settle();
}
