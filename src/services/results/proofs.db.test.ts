import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR } from '@/core/shared/instant';
import { inWorkspace } from '@/db/kit/scope';
import { mergePeople } from '@/services/people/merge-people';
import { undoMerge } from '@/services/people/undo-merge';
import { erasePerson } from '@/services/people/erase-person';
import { must } from '@/services/testing/people';
import { broadcastTo, deliverTo, round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { proofAsPdf } from './proof-pdf';
import { checkProof, makeProof, publicProof, readProofs, shownProof } from './proofs';

let world: World;
const ME = { name: 'test', accountId: null };
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const prove = (address: string) => world.within((scope) => makeProof(world.ctx, scope, address, ME));
const shown = async (id: string) => must(await world.within((scope) => shownProof(scope, id)));

/** Somebody joins, gets a broadcast, writes in another script, and leaves. */
async function aStory(): Promise<void> {
  await broadcastTo(world, 2, 'Clear tonight.');
  await deliverTo(world, 2, {});
  world.clock.at += HOUR;
  await world.texts(phone(0), 'Жду вас 星');
  await world.texts(phone(0), 'STOP');
  await round(world, new Scripted());
}

describe('a proof', () => {
  it('holds what went, what it rested on, and that nothing went after but the confirmation', async () => {
    await aStory();
    const { document } = must(await prove(phone(0)));
    expect(
      document!.messages.map(({ kind, basis, after_leaving: after }) => [kind, basis?.kind ?? null, after]),
    ).toEqual([
      ['confirmation', 'opted-in', false],
      ['broadcast', 'opted-in', false],
      ['opt-out-confirmation', 'opted-out', true],
    ]);
    expect(document!.messages[2]!.because).toContain('confirmation');
    expect(document!.left).toHaveLength(1);
    expect(document!.received.map(({ read_as: read }) => read)).toEqual(['keyword', 'reply', 'opt-out']);
    expect(document!.consent[0]).toMatchObject({ method: 'keyword', evidence: { keyword: 'sky' } });
  });

  it('made twice at one instant is the same proof', async () => {
    await aStory();
    expect(must(await prove(phone(0))).id).toBe(must(await prove(phone(0))).id);
  });

  it('is known again whole, and not with a letter changed', async () => {
    await aStory();
    const { id } = must(await prove(phone(0)));
    const proof = await shown(id);
    const check = (text: string) => world.within((scope) => checkProof(scope, text));
    expect(must(await check(JSON.stringify(proof, null, 2)))).toMatchObject({ is: 'ours', id });
    expect(must(await check(JSON.stringify(proof).replace('Clear tonight', 'Clear Tonight')))).toEqual({
      is: 'changed',
    });
    for (const text of ['', '{}', '[1]', 'null', '{"format":"steady-wren/proof/1"}'])
      expect(await check(text)).toMatchObject({ reason: { problems: [{ field: 'document' }] } });
    // Another workspace did not make it.
    const { id: other } = await world.another();
    const there = await inWorkspace(world.ctx.orm, other, (scope) =>
      checkProof(scope, JSON.stringify(proof)),
    );
    expect(must(there)).toEqual({ is: 'unknown' });
    expect(await publicProof(world.ctx, id)).toMatchObject({ hash: proof.hash });
    expect(await publicProof(world.ctx, 'prf_none')).toBeNull();
  });

  it('is there to be printed, in whatever script somebody wrote', async () => {
    await aStory();
    const { id } = must(await prove(phone(0)));
    const pdf = Buffer.from(await proofAsPdf(await shown(id), id, 'https://example.org/proof'));
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    expect(pdf.length).toBeGreaterThan(5_000);
  });

  it('of an address nothing went to is refused, and so is no address', async () => {
    for (const address of ['+17195550199', 'hello', 'ana@example.org'])
      expect(await prove(address)).toMatchObject({ reason: { problems: [{ field: 'address' }] } });
  });

  it('stands with whom somebody is now, and goes back when they are two again', async () => {
    await aStory();
    const { personId } = must(await prove(phone(0)));
    const { personId: otherId } = must(await prove(phone(1)));
    const proofs = async (id: string) =>
      (await world.within((scope) => readProofs(scope, id)))?.proofs.length;
    const { mergeId } = must(
      await world.within((scope) => mergePeople(world.ctx, scope, otherId!, personId!, {}, ME)),
    );
    expect(await proofs(otherId!)).toBe(2);
    must(await world.within((scope) => undoMerge(world.ctx, scope, mergeId, 'test')));
    expect([await proofs(otherId!), await proofs(personId!)]).toEqual([1, 1]);
  });

  it('goes when its person is erased; that one was made stays to be checked', async () => {
    await aStory();
    const { id, hash, personId } = must(await prove(phone(0)));
    expect((await world.within((scope) => readProofs(scope, personId!)))!.proofs).toHaveLength(1);
    await world.within((scope) => erasePerson(world.ctx, scope, personId!, 'test'));
    expect(await world.within((scope) => shownProof(scope, id))).toMatchObject({ ok: false });
    expect(await world.within((scope) => readProofs(scope, personId!))).toBeNull();
    expect(await publicProof(world.ctx, id)).toMatchObject({ hash });
  });
});
