import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { MINUTE } from '@/core/shared/instant';
import { undoImport } from '@/services/imports/imports';
import { ChatDesk } from '@/services/testing/chat';
import { ImportDesk } from '@/services/testing/imports';
import { InquiryDesk, MAPPING } from '@/services/testing/inquiries';
import { must } from '@/services/testing/people';
import { line, SequenceDesk } from '@/services/testing/sequences';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { rehearseSequence } from '@/services/sequences/rehearsal';
import { workThrough } from '@/services/kit/trouble';
import { withdrawWording } from './templates';
import { REVIEW_QUEUE } from './review';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new ChatDesk(() => world);
const sequences = new SequenceDesk(() => world);
const inquiries = new InquiryDesk(() => world);
const files = new ImportDesk(() => world);
beforeAll(() => desk.open());
afterAll(() => desk.close());
beforeEach(async () => {
  world = await makeWorld();
  desk.anew();
  await desk.connect();
});
afterEach(async () => {
  await desk.quiet();
  await world.close();
});

const consents = async (): Promise<string[]> =>
  (
    await world.rows<{ channel: string; address: string; state: string }>(
      `select channel, address, state from consent_state where workspace_id = :workspace and current order by channel, address`,
    )
  ).map(({ channel, address, state }) => `${channel} ${address} ${state}`);
const sent = async (): Promise<string[]> =>
  (
    await world.rows<{ channel: string; address: string }>(
      `select channel, address from message where workspace_id = :workspace and enrolment_id is not null order by id`,
    )
  ).map(({ channel, address }) => `${channel} ${address}`);

const ANSWER = {
  body: 'Hi {$person.first_name :wren:field fallback=friend}, thank you for your question. Ilse will answer it.',
  header: '',
  footer: '',
  buttons: [],
};

describe('an inquiry', () => {
  const portal = async (templateId: string) => {
    const program = await inquiries.program();
    const answer = await sequences.publish(
      [line('a', { at: 'once' }, { do: 'text', body: 'Thank you, {$person.first_name}.', chat: templateId })],
      { name: 'First answer', program, begins: [{ on: 'request' }] },
    );
    const mapping = { ...MAPPING, rules: [...MAPPING.rules, { to: 'chat', from: ['/chat'] }] };
    return inquiries.source({ mapping, begins: [{ sequence: answer, kind: '' }] });
  };

  it('is answered by chat where they named one, by text else', async () => {
    const { templateId } = await desk.template(ANSWER, { name: 'first_answer', category: 'utility' });
    const source = await portal(templateId);
    await inquiries.bring(source, {
      name: 'Ada Orr',
      phone: phone(1),
      chat: 'owl-1',
      about: 'class trip',
      id: '1',
    });
    await inquiries.bring(source, {
      name: 'Bo Tarn',
      phone: phone(2),
      chat: '',
      about: 'class trip',
      id: '2',
    });
    await inquiries.work();
    await sequences.settle();
    expect(await consents()).toEqual(['chat owl-1 in', ...[1, 2].map((i) => `sms ${phone(i)} in`)]);
    expect((await sent()).sort()).toEqual(['chat owl-1', `sms ${phone(2)}`]);
    expect(await desk.round()).toEqual(['taken']);
    expect(desk.shown('owl-1')[0]).toContain('Hi Ada, thank you for your question.');
  });

  it('is rehearsed as it would be answered: by chat to whoever agreed to it, by text to others', async () => {
    const { templateId } = await desk.template(ANSWER, { name: 'first_answer', category: 'utility' });
    const source = await portal(templateId);
    await inquiries.bring(source, { name: 'Ada Orr', phone: phone(1), chat: 'owl-1', about: 'x', id: '1' });
    await inquiries.bring(source, { name: 'Bo Tarn', phone: phone(2), chat: '', about: 'x', id: '2' });
    await inquiries.work();
    const [sequence] = await world.rows<{ id: string }>(
      `select id from sequence where workspace_id = :workspace`,
    );
    const people = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace order by first_name`,
    );
    const said = [];
    for (const person of [...people.map(({ id }) => id), undefined]) {
      const played = must(
        await world.within((scope) =>
          rehearseSequence(world.ctx, scope, {
            ...{ sequence: sequence!.id, prompted: true },
            ...(person ? { person } : {}),
          }),
        ),
      );
      said.push(played.itinerary.map(({ by, body }) => [by, body]));
    }
    expect(said).toEqual([
      [['chat', expect.stringContaining('Hi Ada, thank you for your question.')]],
      [[undefined, expect.stringContaining('Thank you, Bo.')]],
      [[undefined, expect.stringContaining('Thank you, Ana.')]],
    ]);
  });

  it('is answered by text once the network takes the template no more', async () => {
    const { templateId, wordingId } = await desk.template(ANSWER, {
      name: 'first_answer',
      category: 'utility',
    });
    const source = await portal(templateId);
    await world.within((scope) => withdrawWording(world.ctx, scope, wordingId, ME));
    await workThrough(world.ctx, REVIEW_QUEUE);
    await inquiries.bring(source, {
      name: 'Ada Orr',
      phone: phone(1),
      chat: 'owl-1',
      about: 'class trip',
      id: '1',
    });
    await inquiries.work();
    await sequences.settle();
    expect(await sent()).toEqual([`sms ${phone(1)}`]);
  });
});

describe('a file of chat contacts', () => {
  const CSV = `Name,Phone,Chat ID,Language
Ada Orr,(303) 555-0101,owl-1,es
Bo Tarn,303 555 0102,,en-US
Fix,303 555 0199,,`;

  it('comes in with the attested consent of the channel, by the id, else by the number', async () => {
    const row = await files.upload(CSV);
    expect(row.mapping.map(({ to }) => to)).toEqual(['full_name', 'number', 'chat', 'language']);
    await files.run(await files.check(row, { ...(await files.consent()), consent_channels: ['chat'] }));
    expect(await consents()).toEqual([`chat ${phone(2)} in`, 'chat owl-1 in']);
    expect(
      await world.rows(
        `select first_name, language from person where workspace_id = :workspace and language is not null order by first_name`,
      ),
    ).toEqual([
      { first_name: 'Ada', language: 'es' },
      { first_name: 'Bo', language: 'en-US' },
    ]);
  });

  it('never turns anybody back on who left', async () => {
    await desk.writes(phone(2), 'SKY');
    world.clock.at += MINUTE;
    await desk.writes(phone(2), 'STOP');
    const row = await files.upload(CSV);
    await files.run(await files.check(row, { ...(await files.consent()), consent_channels: ['chat'] }));
    expect(await consents()).toContain(`chat ${phone(2)} out`);
  });

  it('is taken back with the ids it brought', async () => {
    await world.texts(phone(1), 'SKY');
    const row = await files.upload(CSV);
    await files.run(await files.check(row));
    expect(
      await world.rows(`select 1 from address where workspace_id = :workspace and kind = 'chat'`),
    ).toHaveLength(1);
    await world.within((scope) => undoImport(world.ctx, scope, row.id, ME));
    await files.work();
    expect(
      await world.rows(`select 1 from address where workspace_id = :workspace and kind = 'chat'`),
    ).toEqual([]);
  });
});
