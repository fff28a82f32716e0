import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, MINUTE, SECOND } from '@/core/shared/instant';
import { Offer } from '@/db/offers/entities';
import { KeywordRow } from '@/db/programs/entities';
import { changeKeyword } from '@/services/programs/change-keyword';
import type { ChangeKeywordInput } from '@/services/programs/inputs';
import { mergePeople } from '@/services/people/merge-people';
import { erasePerson } from '@/services/people/erase-person';
import { must } from '@/services/testing/people';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { receipt, round, Scripted } from '@/services/testing/sending';
import { storeAnswers } from '@/services/delivery/store-answers';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { checkCode, undoUse, redeemVoucher, vouchersOfEnding } from './counter';
import type { ChangeOfferInput, OfferInput } from './inputs';
import { changeOffer, createOffer } from './offers';
import { lookAtVouchers } from './room';
import { readOfferResult } from './screen';

const TILL = { name: 'till', accountId: null };

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const offer = (more: Partial<OfferInput> = {}) =>
  world.within(async (scope) => {
    const input = { name: 'Free hour', words: 'One free hour.', days: 14, ...more } as OfferInput;
    const made = must(await createOffer(world.ctx, scope, input, TILL));
    const { id, stamp } = await scope.em.findOneOrFail(KeywordRow, { word: 'sky' });
    must(await changeKeyword(world.ctx, scope, id, { stamp, offer: made.id } as ChangeKeywordInput, 'test'));
    return made;
  });
/** Somebody texts the keyword and gets their voucher; its code. */
async function voucherOf(i: number, delivered = true): Promise<string> {
  await world.texts(phone(i), 'sky');
  const carrier = new Scripted();
  await round(world, carrier);
  if (delivered)
    await storeAnswers(
      world.ctx,
      [],
      carrier.parts.map((part, n) => receipt(part, carrier.ids[n]!)),
    );
  return /Code ([0-9A-Z-]{10})/.exec(carrier.parts.map(({ body }) => body).join(''))![1]!;
}
const check = (code: string) => world.within((scope) => checkCode(world.ctx, scope, code, TILL));
const use = (code: string, press = `p${Math.random()}`) =>
  world.within((scope) => redeemVoucher(world.ctx, scope, { code, press }, TILL));

describe('a voucher at the counter', () => {
  it('is valid, is used once, and says when it was used', async () => {
    await offer();
    const code = await voucherOf(0);
    expect(await check(code.toLowerCase())).toMatchObject({ state: 'valid', offer: { name: 'Free hour' } });
    expect(await use(code)).toMatchObject({ state: 'used', counted: true });
    expect(await use(code)).toMatchObject({ state: 'used', counted: false, used_at: expect.any(String) });
  });

  it('counts its days from when it was delivered', async () => {
    await offer();
    const code = await voucherOf(0, false);
    world.clock.at += 20 * DAY;
    await lookAtVouchers(world.ctx);
    expect(await check(code)).toMatchObject({ state: 'valid', ends_at: null });
    const other = await voucherOf(1);
    world.clock.at += 13 * DAY;
    await lookAtVouchers(world.ctx);
    expect(await check(other)).toMatchObject({ state: 'valid' });
    world.clock.at += DAY + SECOND;
    expect(await check(other)).toMatchObject({ state: 'expired' });
    expect(await use(other)).toMatchObject({ state: 'expired', counted: false });
  });

  it('is not for today before its offer begins, and for no day after it was ended', async () => {
    const made = await offer({ from: new Date(world.clock.at + DAY).toISOString() });
    const code = await voucherOf(0);
    expect(await use(code)).toMatchObject({ state: 'not-yet', counted: false });
    world.clock.at += 2 * DAY;
    expect(await check(code)).toMatchObject({ state: 'valid' });
    await world.within(async (scope) => {
      const input = {
        name: 'Free hour',
        words: 'One free hour.',
        stamp: 0,
        archived: true,
      } as ChangeOfferInput;
      must(await changeOffer(world.ctx, scope, made.id, input, TILL));
    });
    expect(await use(code)).toMatchObject({ state: 'withdrawn', counted: false });
  });

  it('ends with its offer, also when that is changed; its own days stay as they were given', async () => {
    const made = await offer();
    const code = await voucherOf(0);
    await lookAtVouchers(world.ctx);
    const changed = (more: Partial<ChangeOfferInput>) =>
      world.within(async (scope) => {
        const { stamp } = await scope.em.findOneOrFail(Offer, { id: made.id });
        const input = { name: 'Free hour', words: 'One free hour.', days: 14, ...more, stamp };
        must(await changeOffer(world.ctx, scope, made.id, input as ChangeOfferInput, TILL));
      });
    const begun = world.clock.at;
    await changed({ to: new Date(begun + 2 * DAY).toISOString(), days: 3 });
    world.clock.at += 2 * DAY;
    expect(await check(code)).toMatchObject({ state: 'expired' });
    await changed({ to: null, days: 3 });
    world.clock.at = begun + 13 * DAY;
    expect(await use(code)).toMatchObject({ counted: true });
  });

  it('is used by one of twenty tills at once, and by one press however often it is sent', async () => {
    await offer({ uses: 2 });
    const code = await voucherOf(0);
    const same = await Promise.all(Array.from({ length: 10 }, () => use(code, 'the same press')));
    expect(same.every(({ counted }) => counted)).toBe(true);
    const tills = await Promise.all(Array.from({ length: 20 }, (_, i) => use(code, `till ${i}`)));
    expect(tills.filter(({ counted }) => counted)).toHaveLength(1);
    expect(await world.rows(`select uses_left from voucher where workspace_id = :workspace`)).toEqual([
      { uses_left: 0 },
    ]);
    expect(await world.rows(`select 1 from redemption where workspace_id = :workspace`)).toHaveLength(2);
  });

  it('is given back within two minutes, once; what follows from it follows after that', async () => {
    await offer();
    const code = await voucherOf(0);
    const happened = () =>
      world.rows(`select 1 from happening where workspace_id = :workspace and kind = 'voucher.redeemed'`);
    const undo = (press: string) => world.within((scope) => undoUse(world.ctx, scope, press, TILL));
    await use(code, 'p1');
    world.clock.at += MINUTE;
    await lookAtVouchers(world.ctx);
    expect(must(await undo('p1'))).toMatchObject({ state: 'valid' });
    expect(await undo('p1')).toMatchObject({ ok: false });
    await use(code, 'p2');
    world.clock.at += 2 * MINUTE + SECOND;
    expect(await happened()).toHaveLength(0);
    await lookAtVouchers(world.ctx);
    await lookAtVouchers(world.ctx);
    expect(await happened()).toHaveLength(1);
    expect(await undo('p2')).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it('is found by the last four of the number', async () => {
    await offer();
    await voucherOf(0);
    const find = (ending: string) =>
      world.within((scope) => vouchersOfEnding(world.ctx, scope, ending, TILL));
    expect(must(await find(phone(0).slice(-4)))).toMatchObject([{ state: 'valid' }]);
    expect(must(await find('9999'))).toEqual([]);
    expect(await find('99')).toMatchObject({ ok: false, reason: { problems: [{ field: 'ending' }] } });
  });

  it('of another workspace is unknown, and guessing is slowed', async () => {
    await offer();
    const code = await voucherOf(0);
    const other = await world.another();
    expect(await world.within((scope) => checkCode(world.ctx, scope, code, TILL), other.id)).toMatchObject({
      state: 'unknown',
      offer: null,
    });
    expect(await check('7KQ3-M9T2W')).toMatchObject({ state: 'unknown' });
    for (let i = 0; i < 9; i++) await check('nothing');
    expect(await check(code)).toMatchObject({ state: 'wait' });
    expect(await use(code)).toMatchObject({ state: 'wait', counted: false });
    world.clock.at += 11 * MINUTE;
    expect(await check(code)).toMatchObject({ state: 'valid' });
  });
});

describe('what time does to vouchers', () => {
  it('begins sequences: one that ends soon, not one that was used', async () => {
    await offer();
    const desk = new SequenceDesk(() => world);
    await desk.publish([line('a', { at: 'once' }, says('Two days left. Reply STOP to stop.'))], {
      begins: [{ on: 'expiring' }],
    });
    const used = await voucherOf(0);
    await voucherOf(1);
    await use(used);
    await lookAtVouchers(world.ctx);
    world.clock.at += 12 * DAY + MINUTE;
    await lookAtVouchers(world.ctx);
    await desk.settle();
    expect(
      await world.rows(
        `select p.number from enrolment e join person p on p.id = e.person_id where e.workspace_id = :workspace`,
      ),
    ).toEqual([{ number: phone(1) }]);
  });

  it('tells once that one ends soon, and once that it has', async () => {
    await offer();
    await voucherOf(0);
    const told = async () => {
      await lookAtVouchers(world.ctx);
      await lookAtVouchers(world.ctx);
      return (
        await world.rows<{ kind: string }>(
          `select kind from happening where workspace_id = :workspace and kind like 'voucher.%' order by seq`,
        )
      ).map(({ kind }) => kind);
    };
    expect(await told()).toEqual(['voucher.given']);
    world.clock.at += 12 * DAY + MINUTE;
    expect(await told()).toEqual(['voucher.given', 'voucher.expiring']);
    world.clock.at += 2 * DAY;
    expect(await told()).toEqual(['voucher.given', 'voucher.expiring', 'voucher.expired']);
  });

  it('is counted by offer and keyword', async () => {
    const { id } = await offer();
    const code = await voucherOf(0);
    await voucherOf(1);
    await lookAtVouchers(world.ctx);
    world.clock.at += 2 * 3_600_000;
    await use(code);
    expect(await world.within((scope) => readOfferResult(scope, id, world.clock.at))).toMatchObject({
      ...{ made: 2, received: 2, redeemed: 1, uses: 1, expired: 0, median_hours: 2 },
      by_keyword: [{ keyword: 'sky', made: 2, redeemed: 1 }],
    });
  });

  it('follows whoever is merged, and is gone with whoever is erased', async () => {
    await offer();
    const code = await voucherOf(0);
    await voucherOf(1);
    const [kept, gone] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace order by number desc`,
    );
    await world.within(async (scope) =>
      must(await mergePeople(world.ctx, scope, kept!.id, gone!.id, {}, TILL)),
    );
    expect(await check(code)).toMatchObject({ state: 'valid' });
    await world.within(async (scope) => must(await erasePerson(world.ctx, scope, kept!.id, 'test')));
    expect(
      await world.rows(
        `select 1 from voucher v join person p on p.id = v.person_id where v.workspace_id = :workspace and p.erased_at is not null`,
      ),
    ).toEqual([]);
  });
});
