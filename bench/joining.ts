import { MikroORM } from '@mikro-orm/postgresql';
import { quantile } from 'd3-array';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { makeCode } from '@/core/offer/code';
import { makeContext, type Context } from '@/services/context';
import { claimDueTexts, submitText } from '@/services/delivery/send-due-texts';
import { storeAnswers } from '@/services/delivery/store-answers';
import { receiveText } from '@/services/inbox/receive-text';
import { migrate } from '@/services/migrate';
import { redeemVoucher } from '@/services/offers/counter';
import type { OfferInput } from '@/services/offers/inputs';
import { createOffer } from '@/services/offers/offers';
import { findOrMakeLabel } from '@/services/people/labels';
import { changeKeyword } from '@/services/programs/change-keyword';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import type { ChangeKeywordInput } from '@/services/programs/inputs';
import { addCrowd, fictionNumbers } from '@/services/testing/crowd';
import { Scripted } from '@/services/testing/sending';
import { scratchDatabase } from '../e2e/support/app';
import { round, say } from './report';

const ME = { name: 'bench', accountId: null };
const NUMBER = '+17195550110';
const CODES = 1_000;
const TILLS = 20;
const JOINING = 300;
/** One text every so many milliseconds: twenty a second. */
const EVERY_MS = 50;

/** Vouchers used at twenty tills, and a keyword with three consequences until its answer leaves. */
export async function benchJoining(): Promise<void> {
  const orm = MikroORM.initSync(ormConfig(await scratchDatabase('bench_joining'), 24)) as MikroORM;
  try {
    await migrate(orm);
    const ctx = makeContext(orm, () => Date.now());
    const { id } = await createWorkspace(ctx, {
      ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
      ...{ slug: 'bench', credits: 10_000_000 },
    });
    const within = <T>(work: (scope: Scope) => Promise<T>) => inWorkspace(orm, id, work);
    const offerId = await within((scope) => furnish(ctx, scope));
    await redeem(ctx, within, offerId);
    await join(ctx);
  } finally {
    await orm.close(true);
  }
}

type Within = <T>(work: (scope: Scope) => Promise<T>) => Promise<T>;

async function furnish(ctx: Context, scope: Scope): Promise<string> {
  await addSenderNumber(ctx, scope, {
    ...{ number: NUMBER, kind: 'local', registration: 'registered', partsPerSecond: 1_000 },
  });
  const program = await createProgram(ctx, scope, { name: 'Sky', purpose: 'recurring' }, 'bench');
  const keyword = await createKeyword(ctx, scope, { program: 'Sky', word: 'SKY' }, 'bench');
  const input = { name: 'Free hour', words: 'One free hour.', days: 14 } as OfferInput;
  const offer = await createOffer(ctx, scope, input, ME);
  const tag = await findOrMakeLabel(ctx, scope, 'tag', 'sky', 'bench');
  const list = await findOrMakeLabel(ctx, scope, 'list', 'Visitors', 'bench');
  if (!program.ok || !keyword.ok || !offer.ok || !tag.ok || !list.ok) throw new Error('refused');
  const gives = { stamp: 0, offer: offer.value.id, labels: [tag.value.id, list.value.id] };
  await changeKeyword(ctx, scope, keyword.value.id, gives as ChangeKeywordInput, 'bench');
  await addCrowd(scope, program.value.id, CODES);
  return offer.value.id;
}

async function redeem(ctx: Context, within: Within, offerId: string): Promise<void> {
  await within((scope) =>
    scope.run(
      `insert into voucher (id, workspace_id, offer_id, person_id, code, made_at, uses_left)
       select 'v' || n, :workspace, :offerId, id, lpad(upper(to_hex(n)), 8, '0'), now(), 1
         from (select id, row_number() over (order by id) as n from person where workspace_id = :workspace) p`,
      { offerId },
    ),
  );
  const codes = await within(checked);
  const from = performance.now();
  const won = await Promise.all(
    Array.from({ length: TILLS }, async (_, till) => {
      let counted = 0;
      for (let i = 0; i < codes.length; i++) {
        // Every till comes by every code, each from another side.
        const code = codes[(i + till * (CODES / TILLS)) % codes.length]!;
        const told = await within((scope) => redeemVoucher(ctx, scope, { code, press: `${till} ${i}` }, ME));
        if (told.counted) counted += 1;
      }
      return counted;
    }),
  );
  const seconds = (performance.now() - from) / 1_000;
  const [{ uses }] = (await within((scope) =>
    scope.rows<{ uses: number }>(
      `select count(*)::int as uses from redemption where workspace_id = :workspace`,
    ),
  )) as [{ uses: number }];
  say('vouchers used at twenty tills', {
    ...{ codes: CODES, presses_per_second: Math.round((TILLS * CODES) / seconds), asked_per_second: 500 },
    ...{ used: won.reduce((sum, n) => sum + n, 0), written: uses },
  });
}

/** The codes get their check characters: what the statement made is no code yet. */
async function checked(scope: Scope): Promise<string[]> {
  const rows = await scope.rows<{ id: string }>(
    `select id from voucher where workspace_id = :workspace order by id`,
  );
  const codes = rows.map((_, i) => makeCode(Uint8Array.from([0, 0, 0, i >> 8, i & 255])));
  await scope.run(
    `update voucher v set code = u.code from unnest(:ids::text[], :codes::text[]) as u (id, code) where v.workspace_id = :workspace and v.id = u.id`,
    { ids: rows.map(({ id }) => id), codes },
  );
  return codes;
}

async function join(ctx: Context): Promise<void> {
  const came = new Map<string, number>();
  const took: number[] = [];
  const carrier = new Scripted();
  const numbers = fictionNumbers(CODES + JOINING).slice(CODES);
  let coming = true;
  const note = (to: string): void => {
    const at = came.get(to);
    if (at === undefined) return;
    came.delete(to);
    took.push(performance.now() - at);
  };
  const sending = (async () => {
    while (coming || came.size > 0) {
      const leaving = await claimDueTexts(ctx, 1, 100);
      for (const { number } of leaving) note(number);
      await storeAnswers(ctx, await Promise.all(leaving.map((text) => submitText(carrier, text))), []);
      // As the worker, which is woken or looks again.
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
  })();
  const received: Promise<unknown>[] = [];
  for (const [i, from] of numbers.entries()) {
    await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
    came.set(from, performance.now());
    received.push(
      receiveText(ctx, { carrierId: `in${i}`, from, to: NUMBER, body: 'Sky please', concat: null }),
    );
  }
  await Promise.all(received);
  coming = false;
  await sending;
  say('a keyword with a tag, a list and a voucher, until its answer leaves', {
    ...{ texts: took.length, a_second: 1_000 / EVERY_MS, p50_ms: round(quantile(took, 0.5)!) },
    ...{ p95_ms: round(quantile(took, 0.95)!), asked_ms: 200 },
  });
}
