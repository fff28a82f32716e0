import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { SenderNumberRow } from '@/db/numbers/entities';
import { claimDueTexts } from '@/services/delivery/send-due-texts';
import { mayBring, readCarriers, sameLink } from '@/services/delivery/carriers';
import { joinReceipts, storeAnswers } from '@/services/delivery/store-answers';
import { must } from '@/services/testing/people';
import { broadcastTo, receipt, round, Scripted, sent } from '@/services/testing/sending';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';
import { changeCarrier, connectionOf, enterCarrier, removeCarrier } from './carriers';
import type { CarrierInput } from './inputs';
import { readCarrierStates } from './screen';
import { changeNumber, enterNumber } from './sender-numbers';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const INPUT: CarrierInput = {
  ...{ name: 'Second', host: 'smpp.example.org', port: 2775, system_id: 'wren', password: 'secret' },
};
const enter = (over: Partial<CarrierInput> = {}, workspaceId?: string) =>
  world.within((scope) => enterCarrier(world.ctx, scope, { ...INPUT, ...over }, 'test'), workspaceId);
const senderId = (number: string) =>
  world.within(async (scope) => (await scope.em.findOneOrFail(SenderNumberRow, { number })).id);
/** A number of the second carrier, of which every program writes. */
async function second(): Promise<string> {
  const { id } = must(await enter());
  must(
    await world.within((scope) =>
      enterNumber(
        world.ctx,
        scope,
        {
          ...{ number: '+17195550111', kind: 'local', registration: 'registered', parts_per_second: 1_000 },
          ...{ programs: ['Clear Sky Alerts'], carrier: 'Second' },
        },
        'test',
      ),
    ),
  );
  return id;
}

describe('a carrier', () => {
  it('is entered, seen, changed and taken away, and never shows its password', async () => {
    const { id } = must(await enter({ profile: { tls: true } }));
    const states = await world.within(readCarrierStates);
    expect(states.map(({ name }) => name)).toEqual(['The installation’s carrier', 'Second']);
    expect(JSON.stringify(states)).not.toContain('secret');
    const [house, own] = await readCarriers(world.ctx);
    expect(own).toMatchObject({
      ...{ id, workspaceId: world.workspaceId },
      options: {
        host: 'smpp.example.org',
        password: 'secret',
        idsOf: id,
        profile: { tls: true, bind: 'transceiver' },
      },
    });
    expect(house!.options.idsOf).toBeUndefined();
    must(
      await world.within((scope) =>
        changeCarrier(world.ctx, scope, id, { profile: { parts: 'sar' } }, 'test'),
      ),
    );
    const [, changed] = await readCarriers(world.ctx);
    expect(changed!.options).toMatchObject({ password: 'secret', profile: { tls: false, parts: 'sar' } });
    expect(sameLink(own!, changed!)).toBe(false);
    must(await world.within((scope) => removeCarrier(world.ctx, scope, id, 'test')));
    expect(await readCarriers(world.ctx)).toHaveLength(1);
    expect(
      await world.rows(
        `select action from audit_entry where workspace_id = :workspace and subject = :id order by id`,
        { id },
      ),
    ).toHaveLength(3);
  });

  it.each<[string, Partial<CarrierInput>, string, RegExp]>([
    ['a private address', { host: '10.0.0.7' }, 'host', /private network/],
    ['one in brackets', { host: '[::1]' }, 'host', /private network/],
    ['a name that leads inside', { host: 'smpp.internal' }, 'host', /private network/],
    ['a host with a port', { host: 'smpp.example.org:2775' }, 'host', /without a port/],
    ['no name', { name: '  ' }, 'name', /say what/],
    ['a setting there is none of', { profile: { speed: 3 } }, 'profile', /speed: no setting/],
    ['a setting that is wrong', { profile: { bind: 'both' } }, 'profile', /bind: must be one of/],
    ['a reason that is none', { profile: { errors: { '601': 'bad luck' } } }, 'profile', /errors: must be/],
  ])('is refused with %s, in a sentence that names the field', async (_, over, field, sentence) =>
    expect(await enter(over)).toMatchObject({
      ok: false,
      reason: { problems: [{ field, message: expect.stringMatching(sentence) as string }] },
    }),
  );

  it('keeps its password to its host', async () => {
    const { id } = must(await enter());
    const moved = await world.within((scope) =>
      changeCarrier(world.ctx, scope, id, { host: 'elsewhere.example.org' }, 'test'),
    );
    expect(moved).toMatchObject({ ok: false, reason: { problems: [{ field: 'password' }] } });
  });

  it('of one workspace is nothing to another: not seen, not changed, not checked, not given numbers', async () => {
    const { id } = must(await enter());
    const { id: other } = await world.another();
    expect(await world.within(readCarrierStates, other)).toHaveLength(1);
    const theirs = await world.within(
      async (scope) => [
        await changeCarrier(world.ctx, scope, id, { name: 'Mine' }, 'test'),
        await removeCarrier(world.ctx, scope, id, 'test'),
        await connectionOf(scope, id),
        await changeNumber(
          world.ctx,
          scope,
          (await scope.em.findOneOrFail(SenderNumberRow, {})).id,
          { carrier: id },
          'test',
        ),
      ],
      other,
    );
    expect(theirs.map(({ ok }) => ok)).toEqual([false, false, false, false]);
  });

  it('brings texts to the numbers of its workspace only; the installation’s to any', async () => {
    const { id: other } = await world.another();
    expect(await mayBring(world.ctx, world.workspaceId, NUMBER)).toBe(true);
    expect(await mayBring(world.ctx, other, NUMBER)).toBe(false);
    expect(await mayBring(world.ctx, other, '+17195550199')).toBe(false);
    expect(await mayBring(world.ctx, null, NUMBER)).toBe(true);
  });

  it('is not taken away while a number belongs to it', async () => {
    const id = await second();
    expect(await world.within((scope) => removeCarrier(world.ctx, scope, id, 'test'))).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining('a number belongs to it') as string }] },
    });
  });
});

describe('with several carriers', () => {
  it('each takes the texts of its own numbers, and one that is away holds only those', async () => {
    const id = await second();
    await broadcastTo(world, 2);
    const [one, other] = [await senderId(NUMBER), await senderId('+17195550111')];
    await world.within((scope) =>
      scope.run(
        `update message set sender_id = case when address = :first then :one else :other end where workspace_id = :workspace and state = 'queued'`,
        {
          ...{ one, other, first: phone(0) },
        },
      ),
    );
    await world.within((scope) =>
      scope.run(
        `update sender_assignment set sender_id = :other where workspace_id = :workspace and person_id in (select id from person where number <> :first)`,
        {
          ...{ other, first: phone(0) },
        },
      ),
    );
    // The second carrier is away: nobody claims for it.
    const here = await claimDueTexts(world.ctx, 1, 100);
    expect(here.map(({ senderNumber }) => senderNumber)).toEqual([NUMBER]);
    expect(await claimDueTexts(world.ctx, 1, 100)).toEqual([]);
    const there = await claimDueTexts(world.ctx, 1, 100, id);
    expect(there.map(({ senderNumber, number }) => [senderNumber, number])).toEqual([
      ['+17195550111', phone(1)],
    ]);
  });

  it('does not believe one what it tells of the texts of another', async () => {
    const id = await second();
    await broadcastTo(world, 1);
    const [text] = await claimDueTexts(world.ctx, 999, 100);
    const outcome = { text: text!, parts: [{ kind: 'unknown' as const }] };
    await storeAnswers(world.ctx, [outcome], []);
    const part = { to: phone(0), userReference: text!.reference };
    await storeAnswers(world.ctx, [], [{ ...receipt(part, `${id}/1`), carrier: id }]);
    expect(await sent(world)).toMatchObject([{ state: 'unconfirmed' }]);
    await storeAnswers(world.ctx, [], [receipt(part, 'c-own')]);
    expect(await sent(world)).toMatchObject([{ state: 'delivered' }]);
  });
});

describe('a receipt whose id is told in another way', () => {
  const PEOPLE = 4;
  /** Ids in hexadecimal, told in decimal, by a carrier of which nothing is known. */
  const told = async (over: { number?: string } = {}) => {
    await broadcastTo(world, PEOPLE);
    const carrier = new Scripted(
      Array.from({ length: PEOPLE }, (_, i) => ({
        kind: 'taken' as const,
        carrierId: (0xa1b0 + i).toString(16),
      })),
    );
    await round(world, carrier);
    await storeAnswers(
      world.ctx,
      [],
      carrier.parts.map((part, i) => ({
        ...receipt(part, String(0xa1b0 + i)),
        ...{ userReference: null, number: over.number ?? part.to },
        otherIds: [{ ids: 'decimal of hexadecimal' as const, id: (0xa1b0 + i).toString(16) }],
      })),
    );
  };
  const states = async () => (await sent(world)).map(({ state }) => state);

  it('finds its text, and the carrier is known from then on', async () => {
    await told();
    await joinReceipts(world.ctx);
    // The part of that very id had no time to come yet.
    expect(new Set(await states())).toEqual(new Set(['submitted']));
    world.clock.at += 6_000;
    expect(await joinReceipts(world.ctx)).toBe(PEOPLE);
    expect(new Set(await states())).toEqual(new Set(['delivered']));
    expect((await readCarriers(world.ctx))[0]!.options.profile.receiptIds).toBe('decimal of hexadecimal');
  });

  it('finds none that went elsewhere', async () => {
    await told({ number: phone(77) });
    world.clock.at += 6_000;
    expect(await joinReceipts(world.ctx)).toBe(0);
    expect(new Set(await states())).toEqual(new Set(['submitted']));
  });
});

describe('a receipt that only its words mark as one', () => {
  it('counts only from where its text went', async () => {
    await broadcastTo(world, 1);
    const carrier = new Scripted();
    await round(world, carrier);
    const real = { ...receipt(carrier.parts[0]!, carrier.ids[0]!), byWords: true };
    await storeAnswers(world.ctx, [], [{ ...real, stat: 'UNDELIV', err: '013', number: phone(50) }]);
    expect(await sent(world)).toMatchObject([{ state: 'submitted' }]);
    await storeAnswers(world.ctx, [], [real]);
    expect(await sent(world)).toMatchObject([{ state: 'delivered' }]);
  });
});
