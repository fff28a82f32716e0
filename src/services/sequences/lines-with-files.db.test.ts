import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { What } from '@/core/sequence/document';
import { keepFile } from '@/services/media/files';
import { putItem } from '@/services/items/items';
import { must } from '@/services/testing/people';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { rehearseSequence } from './rehearsal';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new SequenceDesk(() => world);
beforeEach(async () => {
  world = await makeWorld({ sender: { mms: true } });
});
afterEach(() => world.close());

const card = async () =>
  must(
    await world.within((scope) =>
      keepFile(
        world.ctx,
        scope,
        { name: 'us.vcf', bytes: Buffer.from('BEGIN:VCARD\nFN:Us\nEND:VCARD\n') },
        ME,
      ),
    ),
  ).id;
const withCard = (media: string): What => ({ do: 'text', body: 'Our card.', media: [media] });

const messages = () =>
  world.rows<{ body: string; media: string[] | null; credits: number }>(
    `select body, media, credits from message where workspace_id = :workspace and enrolment_id is not null order by id`,
  );

describe('a line of a sequence', () => {
  it('carries its file as a picture message', async () => {
    const media = await card();
    await desk.publish([line('a', { at: 'once' }, withCard(media))]);
    await world.texts(phone(0), 'sky');
    await desk.settle();
    expect(await messages()).toEqual([{ body: 'Our card.', media: [media], credits: 3 }]);
  });

  it('whose file is gone still says its words', async () => {
    await desk.publish([line('a', { at: 'once' }, withCard('pic_gone'))]);
    await world.texts(phone(0), 'sky');
    await desk.settle();
    expect(await messages()).toEqual([{ body: 'Our card.', media: null, credits: 1 }]);
  });

  it('rehearses with what its file costs, and says what is on as it stands now', async () => {
    must(
      await world.within((scope) =>
        putItem(world.ctx, scope, { number: 'E-1', kind: 'event', name: 'Ring night' }, ME),
      ),
    );
    const id = await desk.publish([
      line('a', { at: 'once' }, withCard(await card())),
      line('b', { at: 'once' }, says('Come to {$item.e_1.name :wren:field}.')),
    ]);
    const played = must(await world.within((scope) => rehearseSequence(world.ctx, scope, { sequence: id })));
    const stops = played.itinerary;
    expect(stops.filter(({ body }) => body).map(({ body, credits }) => [body, credits])).toEqual([
      ['Our card.', 3],
      ['Come to Ring night.', 1],
    ]);
  });

  it('tells which of the things that are on it named', async () => {
    must(
      await world.within((scope) =>
        putItem(world.ctx, scope, { number: 'E-1', kind: 'event', name: 'Ring night' }, ME),
      ),
    );
    const id = await desk.publish([line('b', { at: 'once' }, says('Come to {$item.e_1.name :wren:field}.'))]);
    await world.texts(phone(0), 'sky');
    await desk.settle();
    expect(await desk.bodies()).toEqual(['Come to Ring night.']);
    expect(await world.rows(`select step_id from written_about where workspace_id = :workspace`)).toEqual([
      { step_id: `${id}.b` },
    ]);
  });
});
