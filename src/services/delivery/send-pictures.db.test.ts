import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { OutgoingPicture } from '@/gateways/mm7/submit';
import type { Relay } from '@/gateways/mm7/relay';
import type { SubmitOutcome } from '@/gateways/carrier';
import { SenderNumberRow } from '@/db/numbers/entities';
import { reportClearance } from '@/services/clearance/report-clearance';
import { keepFile } from '@/services/media/files';
import { answerThread } from '@/services/inbox/answer-thread';
import { receivePicture } from '@/services/inbox/receive-picture';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { stopBroadcast } from '@/services/sends/move-broadcast';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { erasePerson } from '@/services/people/erase-person';
import { readPersonScreen } from '@/services/people/screen';
import { receipt, round, Scripted } from '@/services/testing/sending';
import { must } from '@/services/testing/people';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';
import { claimDuePictures, handOverPicture } from './send-pictures';
import { storeAnswers } from './store-answers';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld({ sender: { mms: true } });
});
afterEach(() => world.close());

/** A relay that answers as told, message by message; takes everything beyond. */
class ScriptedRelay implements Relay {
  readonly sent: OutgoingPicture[] = [];
  constructor(readonly script: SubmitOutcome[] = []) {}
  free = () => 10;
  close = async () => {};
  async send(picture: OutgoingPicture): Promise<SubmitOutcome> {
    this.sent.push(picture);
    return this.script.shift() ?? { kind: 'taken', carrierId: `mm7:${picture.to}` };
  }
}

const jpeg = () =>
  sharp({ create: { width: 40, height: 30, channels: 3, background: '#228' } })
    .jpeg()
    .toBuffer();

const keep = async (bytes: Buffer, name = 'dome.jpg') =>
  must(await world.within((scope) => keepFile(world.ctx, scope, { name, bytes }, ME))).id;

async function join(people: number): Promise<void> {
  for (let i = 0; i < people; i++) await world.texts(phone(i), 'sky');
  await round(world, new Scripted());
}

const draft = (media: string[], more: object = {}) =>
  world.within((scope) =>
    createBroadcast(
      world.ctx,
      scope,
      { program: 'Clear Sky Alerts', name: 'B', body: 'Look up tonight.', media, ...more },
      ME,
    ),
  );

async function send(media: string[]): Promise<string> {
  const { id } = must(await draft(media));
  must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME)));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  return id;
}

async function pictures(relay: Relay): Promise<number> {
  const leaving = await claimDuePictures(world.ctx, 1, 100);
  const handed = await Promise.all(leaving.map((text) => handOverPicture(world.ctx, relay, text)));
  await storeAnswers(world.ctx, handed, []);
  return leaving.length;
}

const messages = () =>
  world.rows<{
    address: string;
    state: string;
    failure: string | null;
    credits: number;
    body: string;
    media: string[] | null;
  }>(
    `select address, state, failure, credits, body, media from message where workspace_id = :workspace and kind = 'broadcast' order by created_at, address`,
  );

const purse = async (): Promise<number> =>
  (await world.rows<{ n: number }>(`select credit_balance as n from workspace where id = :workspace`))[0]!.n;

const report = (media: string[], body = 'Look up tonight.') =>
  world.within((scope) =>
    reportClearance(scope, {
      ...{ program: 'Clear Sky Alerts', body, at: world.clock.at },
      ...{ senderName: null, personId: null, media },
    }),
  );

describe('a broadcast with pictures', () => {
  it('goes as a picture message, with its words and what is small of each, for what that costs', async () => {
    await join(2);
    const [first, second] = [await keep(await jpeg()), await keep(await jpeg(), 'ring.jpg')];
    await send([first, second]);
    expect(await round(world, new Scripted())).toBe(0);
    const relay = new ScriptedRelay();
    expect(await pictures(relay)).toBe(2);
    expect(relay.sent[0]).toMatchObject({ from: NUMBER, to: phone(0), text: 'Look up tonight.' });
    expect(relay.sent[0]!.files.map(({ name, type }) => [name, type])).toEqual([
      ['dome.jpg', 'image/jpeg'],
      ['ring.jpg', 'image/jpeg'],
    ]);
    await storeAnswers(
      world.ctx,
      [],
      [
        {
          carrierId: `mm7:${phone(0)}`,
          stat: 'DELIVRD',
          err: 'retrieved',
          number: phone(0),
          userReference: null,
        },
      ],
    );
    expect(await messages()).toMatchObject([
      { state: 'delivered', credits: 3, media: [first, second] },
      { state: 'submitted', credits: 3 },
    ]);
    expect(await pictures(relay)).toBe(0);
  });

  it('is a link to them where the number cannot, and the report says so first', async () => {
    await join(1);
    const id = await keep(await jpeg());
    const said = must(await report([id]));
    expect(said).toMatchObject({ byLink: {}, cost: { credits: 3, pictures: { people: 1, credits: 3 } } });
    expect(said.sample?.media).toEqual([id]);
    await world.within(async (scope) => {
      (await scope.em.findOneOrFail(SenderNumberRow, { number: NUMBER })).mms = false;
      await scope.em.flush();
    });
    const linked = must(await report([id]));
    expect(linked).toMatchObject({ byLink: { number: 1 }, cost: { credits: 1, pictures: { people: 0 } } });
    expect(linked.sample?.text).toMatch(/^Look up tonight\.\nhttp\S+\/l\/0{10}$/);
    await send([id]);
    const carrier = new Scripted();
    expect(await round(world, carrier)).toBe(1);
    expect(carrier.parts[0]!.body).toMatch(/^Look up tonight\.\nhttp\S+\/l\/\w{10}$/);
    const [row] = await world.rows<{ url: string }>(
      `select url from link_target where workspace_id = :workspace`,
    );
    expect(row!.url).toMatch(new RegExp(`/m/p/${id}$`));
  });

  it('is a link for everybody where a file is of a kind that no picture message carries', async () => {
    await join(1);
    const id = await keep(Buffer.from('%PDF-1.4\n%%EOF'), 'plan.pdf');
    expect(must(await report([id])).byLink).toEqual({ kind: 1 });
  });

  it('goes as a link where the relay refuses it for being one, once, and this phone gets links from then on', async () => {
    await join(1);
    const id = await keep(await jpeg());
    const before = await purse();
    await send([id]);
    const relay = new ScriptedRelay([{ kind: 'refused', reason: 'no-pictures', status: 2001 }]);
    await pictures(relay);
    expect(await messages()).toMatchObject([{ state: 'queued', credits: 1, media: null }]);
    expect(await purse()).toEqual(before);
    const carrier = new Scripted();
    expect([await pictures(relay), await round(world, carrier)]).toEqual([0, 1]);
    expect(carrier.parts[0]!.body).toMatch(/^Look up tonight\.\nhttp\S+\/l\/\w{10}$/);
    expect(await messages()).toMatchObject([{ state: 'submitted', credits: 1 }]);
    expect(await purse()).toBe(before - 1);
    expect(await round(world, carrier)).toBe(0);
    expect(must(await report([id], 'And tomorrow.')).byLink).toEqual({ phone: 1 });
  });

  it('goes as a link where the phone refused what the relay had taken, and is not paid for twice', async () => {
    await join(1);
    const before = await purse();
    await send([await keep(await jpeg())]);
    await pictures(new ScriptedRelay());
    const told = { carrierId: `mm7:${phone(0)}`, stat: 'REJECTD', err: '', number: phone(0) } as const;
    const report = { ...told, userReference: null, failure: 'no-pictures' } as const;
    await storeAnswers(world.ctx, [], [report]);
    await storeAnswers(world.ctx, [], [report]);
    const carrier = new Scripted();
    expect([await round(world, carrier), await round(world, carrier)]).toEqual([1, 0]);
    expect(await messages()).toMatchObject([{ state: 'submitted', credits: 3, media: null }]);
    expect(await purse()).toBe(before - 3);
    await storeAnswers(world.ctx, [], [receipt(carrier.parts[0]!, carrier.ids[0]!)]);
    expect(await messages()).toMatchObject([{ state: 'delivered', failure: null }]);
  });

  it('goes as no link after a STOP, nor once its send was stopped', async () => {
    await join(2);
    const send_ = await send([await keep(await jpeg())]);
    const no = { kind: 'refused', reason: 'no-pictures', status: 2001 } as const;
    const relay = new ScriptedRelay([no, no]);
    const leaving = await claimDuePictures(world.ctx, 1, 1);
    await storeAnswers(world.ctx, [await handOverPicture(world.ctx, relay, leaving[0]!)], []);
    await world.texts(leaving[0]!.number, 'STOP');
    const [last] = await claimDuePictures(world.ctx, 1, 1);
    must(await world.within((scope) => stopBroadcast(world.ctx, scope, send_)));
    await storeAnswers(world.ctx, [await handOverPicture(world.ctx, relay, last!)], []);
    expect((await messages()).map(({ state }) => state).sort()).toEqual(['cancelled', 'failed']);
    const carrier = new Scripted();
    await round(world, carrier);
    expect(carrier.parts.filter(({ body }) => body.includes('Look up'))).toEqual([]);
  });

  it('that nobody knows of is not sent again, and one that was never written is', async () => {
    await join(2);
    await send([await keep(await jpeg())]);
    const relay = new ScriptedRelay([{ kind: 'unknown' }, { kind: 'not-written' }]);
    await pictures(relay);
    expect((await messages()).map(({ state }) => state).sort()).toEqual(['queued', 'unconfirmed']);
    world.clock.at += 60_000;
    expect(await pictures(relay)).toBe(1);
    expect(relay.sent.length).toBe(3);
  });

  it('waits where its file cannot be read, and holds up no text', async () => {
    await join(1);
    await send([await keep(await jpeg())]);
    await world.rows(`delete from media_piece where workspace_id = :workspace`);
    const relay = new ScriptedRelay();
    await pictures(relay);
    expect(relay.sent).toEqual([]);
    expect(await messages()).toMatchObject([{ state: 'queued', failure: 'carrier-error' }]);
  });

  it('leaves from no number that lost them in the middle', async () => {
    await join(1);
    await send([await keep(await jpeg())]);
    await world.rows(`update sender_number set mms = false where workspace_id = :workspace`);
    expect(await pictures(new ScriptedRelay())).toBe(0);
    expect(await messages()).toMatchObject([{ state: 'blocked' }]);
  });

  it.each<[string, string[], object]>([
    ['files that are not here', ['pic_none'], { field: 'media' }],
    ['too many', ['a', 'b', 'c', 'd', 'e'], { field: 'media' }],
  ])('is refused with %s', async (_, media, problem) =>
    expect(await draft(media)).toMatchObject({ ok: false, reason: { problems: [problem] } }),
  );

  it('is refused by e-mail', async () =>
    expect(await draft([await keep(await jpeg())], { channel: 'email', subject: 'S' })).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'media' }] },
    }));

  it('never uses the file of another workspace', async () => {
    const other = await world.another();
    const theirs = await world.within(
      async (scope) => keepFile(world.ctx, scope, { name: 'x.jpg', bytes: await jpeg() }, ME),
      other.id,
    );
    expect(await draft([must(theirs).id])).toMatchObject({ ok: false });
  });
});

const arrives = async (text: string, carrierId = 'mm7:in-1') =>
  receivePicture(world.ctx, {
    ...{ carrierId, from: phone(0), to: NUMBER, text },
    files: [
      { name: 'sky.jpg', type: 'image/jpeg', bytes: await jpeg() },
      { name: 'odd.bin', type: 'application/octet-stream', bytes: Buffer.from('??') },
    ],
  });

describe('a picture message that comes', () => {
  it('is kept once however often it is brought, and stands in the thread', async () => {
    await join(1);
    const received = await arrives('look!');
    expect(received?.interpretation.meaning).toBe('reply');
    expect(await arrives('look!')).toBeNull();
    const { entries } = (await world.within((scope) =>
      readPersonScreen(scope, received!.personId, world.clock.at),
    ))!;
    expect(entries.filter(({ direction }) => direction === 'in')[0]).toMatchObject({
      body: 'look!',
      files: [{ kind: 'picture', name: 'sky.jpg' }],
    });
    expect(await world.rows(`select id from media_file where workspace_id = :workspace`)).toHaveLength(1);
  });

  it('without words waits for a human', async () => {
    await join(1);
    const { personId } = (await arrives(''))!;
    expect(
      await world.rows(
        `select waiting_since is not null as waits from person where workspace_id = :workspace and id = :personId`,
        {
          personId,
        },
      ),
    ).toEqual([{ waits: true }]);
  });

  it('with a STOP in it is a STOP', async () => {
    await join(1);
    expect((await arrives('STOP'))?.interpretation.meaning).toBe('opt-out');
  });

  it('is a STOP even where its files cannot be kept', async () => {
    await join(1);
    await world.poison('media_file', 'true');
    expect((await arrives('stop'))?.interpretation.meaning).toBe('opt-out');
  });

  it('goes with its person when they are erased', async () => {
    await join(1);
    const { personId } = (await arrives('look'))!;
    await world.within((scope) => erasePerson(world.ctx, scope, personId, 'test'));
    expect(await world.rows(`select id from media_file where workspace_id = :workspace`)).toEqual([]);
    expect(await world.rows(`select id from media_gone where workspace_id = :workspace`)).toHaveLength(1);
  });
});

describe('an answer by hand with pictures', () => {
  const answer = async (media: string[]) => {
    const [person] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace`,
    );
    return world.within((scope) =>
      answerThread(world.ctx, scope, person!.id, 'Here it is.', null, { media }),
    );
  };
  const answers = () =>
    world.rows<{ body: string; credits: number; media: string[] | null; state: string }>(
      `select body, credits, media, state from message where workspace_id = :workspace and kind = 'answer' order by created_at`,
    );

  it('goes as a picture message from the number they wrote to', async () => {
    await world.texts(phone(0), 'what does it look like?');
    const picture = await keep(await jpeg());
    must(await answer([picture]));
    const relay = new ScriptedRelay();
    expect(await pictures(relay)).toBe(1);
    expect(relay.sent[0]).toMatchObject({ from: NUMBER, to: phone(0), text: 'Here it is.' });
    expect(await answers()).toEqual([
      { body: 'Here it is.', credits: 3, media: [picture], state: 'submitted' },
    ]);
  });

  it('is a link to them where the number cannot', async () => {
    await world.within((scope) => scope.em.nativeUpdate(SenderNumberRow, { number: NUMBER }, { mms: false }));
    await world.texts(phone(0), 'what does it look like?');
    const picture = await keep(await jpeg());
    must(await answer([picture]));
    expect(await answers()).toMatchObject([
      { body: expect.stringMatching(/^Here it is\.\nhttp\S+$/), media: null },
    ]);
  });

  it('of a file that is not kept here is refused, and nothing is queued', async () => {
    await world.texts(phone(0), 'what does it look like?');
    expect(await answer(['pic_none'])).toMatchObject({ ok: false, reason: { code: 'invalid' } });
    expect(await answers()).toEqual([]);
  });
});
