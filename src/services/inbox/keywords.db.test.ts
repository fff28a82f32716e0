import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { KeywordRow } from '@/db/programs/entities';
import { giveProof, askForProof } from '@/services/sequences/own-number';
import { changeKeyword } from '@/services/programs/change-keyword';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import type { ChangeKeywordInput, CreateProgramInput } from '@/services/programs/inputs';
import { changeOffer, createOffer } from '@/services/offers/offers';
import type { ChangeOfferInput, OfferInput } from '@/services/offers/inputs';
import { findOrMakeLabel } from '@/services/people/labels';
import { changeWorkspace } from '@/services/access/change-workspace';
import { addSenderNumber } from '@/services/access/create-workspace';
import { Workspace } from '@/db/access/entities';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';
import { countSpelling, readNearMisses } from './near-misses';
import { tryKeyword } from './try-keyword';

const ME = { name: 'test', accountId: null };
const ANA = phone(0);

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const keyword = (word = 'sky') => world.within((scope) => scope.em.findOneOrFail(KeywordRow, { word }));
const change = async (more: Partial<ChangeKeywordInput>, word = 'sky') => {
  const { id, stamp } = await keyword(word);
  return world.within((scope) =>
    changeKeyword(world.ctx, scope, id, { stamp, ...more } as ChangeKeywordInput, 'test'),
  );
};
/** What leaves now, to whom. */
async function leaves(): Promise<string[]> {
  const carrier = new Scripted();
  await round(world, carrier);
  return carrier.parts.map(({ body }) => body);
}
const labelled = (name: string) =>
  world.rows(
    `select 1 from person_label pl join label l on l.id = pl.label_id where pl.workspace_id = :workspace and l.name = :name`,
    { name },
  );
const label = (kind: 'tag' | 'list', name: string) =>
  world.within(async (scope) => must(await findOrMakeLabel(world.ctx, scope, kind, name, 'test')).id);
const offer = (more: Partial<OfferInput> = {}) =>
  world.within(async (scope) =>
    must(
      await createOffer(
        world.ctx,
        scope,
        { name: 'Free hour', words: 'One free hour.', ...more } as OfferInput,
        ME,
      ),
    ),
  );
const consents = () =>
  world.rows<{ state: string }>(`select state from consent_state where workspace_id = :workspace`);

describe('what a keyword gives', () => {
  it('says its own first words with their name, puts on tags and lists, and starts its sequences', async () => {
    const desk = new SequenceDesk(() => world);
    const sequence = await desk.publish(
      [line('a', { at: 'once' }, says('First line. Reply STOP to stop.'))],
      {
        begins: [],
      },
    );
    must(
      await change({
        welcome: 'Hello {$person.first_name :wren:field fallback=stargazer}.',
        labels: [await label('tag', 'gala'), await label('list', 'Visitors')],
        sequences: [sequence],
      }),
    );
    await world.texts(ANA, 'Sky!');
    expect([(await leaves()).join('')]).toEqual([
      expect.stringMatching(/^Hello stargazer\. .*Reply HELP for help/),
    ]);
    expect([await labelled('gala'), await labelled('Visitors')].map((rows) => rows.length)).toEqual([1, 1]);
    await desk.settle();
    expect(await world.rows(`select begun_by from enrolment where workspace_id = :workspace`)).toEqual([
      { begun_by: 'keyword' },
    ]);
  });

  it('gives nothing before the YES where it is asked for, and all of it then', async () => {
    await world.within(async (scope) => {
      must(
        await createProgram(
          world.ctx,
          scope,
          { name: 'Dome', purpose: 'marketing', double_opt_in: true } as CreateProgramInput,
          'test',
        ),
      );
      must(await createKeyword(world.ctx, scope, { program: 'Dome', word: 'DOME' }, 'test'));
    });
    must(await change({ welcome: 'Dome words.', labels: [await label('tag', 'dome')] }, 'dome'));
    await world.texts(ANA, 'dome');
    expect(await leaves()).toEqual([expect.stringContaining('reply YES')]);
    expect(await labelled('dome')).toHaveLength(0);
    await world.texts(ANA, 'yes');
    expect(await labelled('dome')).toHaveLength(1);
    expect(await leaves()).toEqual([expect.stringMatching(/^Dome words\. /)]);
  });

  it('gives one voucher to each, of which the words name the code, and no more than there are', async () => {
    const { id } = await offer({ most: 1 });
    must(await change({ offer: id }));
    await world.texts(ANA, 'sky');
    const [first] = await leaves();
    expect(first).toMatch(/^One free hour\. Code [0-9A-Z]{4}-[0-9A-Z]{5}: http.*\/v\/[0-9A-Z]{9} /);
    world.clock.at += 2 * MINUTE;
    await world.texts(ANA, 'sky');
    expect((await leaves())[0]!.slice(0, 40)).toBe(first!.slice(0, 40));
    await world.texts(phone(1), 'sky');
    expect(await leaves()).toEqual([expect.stringMatching(/^All of "Free hour" are given away\. /)]);
    expect(await world.rows(`select made from offer where workspace_id = :workspace`)).toEqual([{ made: 1 }]);
  });

  it('counts those that were given, from the moment there is a limit', async () => {
    const { id } = await offer();
    must(await change({ offer: id }));
    for (const i of [0, 1]) await world.texts(phone(i), 'sky');
    const limit = (most: number, stamp: number) =>
      world.within((scope) =>
        changeOffer(
          world.ctx,
          scope,
          id,
          { name: 'Free hour', words: 'One free hour.', most, stamp } as ChangeOfferInput,
          ME,
        ),
      );
    expect(await limit(1, 0)).toMatchObject({ ok: false, reason: { problems: [{ field: 'most' }] } });
    must(await limit(2, 0));
    await world.texts(phone(2), 'sky');
    expect((await leaves()).join('')).toContain('are given away');
  });

  it('names the voucher where its words do', async () => {
    const { id } = await offer();
    must(await change({ offer: id, welcome: 'Show {$voucher.code} at the door.' }));
    await world.texts(ANA, 'sky');
    expect(await leaves()).toEqual([
      expect.stringMatching(/^Show [0-9A-Z]{4}-[0-9A-Z]{5} at the door\. Juniper/),
    ]);
  });
});

describe('when and where a keyword counts', () => {
  it('answers before and after its time, and nobody joins by it', async () => {
    const at = (days: number) => new Date(world.clock.at + days * DAY).toISOString();
    must(await change({ valid_from: at(1), valid_to: at(3), after_words: 'The evening is over.' }));
    await world.texts(ANA, 'sky');
    expect(await leaves()).toEqual([expect.stringMatching(/SKY begins on November 25/)]);
    world.clock.at += 4 * DAY;
    await world.texts(ANA, 'sky');
    expect(await leaves()).toEqual(['The evening is over.']);
    expect(await consents()).toEqual([]);
    world.clock.at -= 2 * DAY;
    await world.texts(ANA, 'sky');
    expect(await consents()).toEqual([{ state: 'in' }]);
  });

  it('is heard on its numbers only; elsewhere it is a reply like any other', async () => {
    const other = '+17195550111';
    await world.within((scope) =>
      addSenderNumber(world.ctx, scope, {
        ...{ number: other, kind: 'local', registration: 'registered', partsPerSecond: 10 },
      }),
    );
    must(await change({ sender_numbers: [other] }));
    await world.texts(ANA, 'sky', NUMBER);
    expect(await consents()).toEqual([]);
    await world.texts(ANA, 'sky', other);
    expect(await consents()).toEqual([{ state: 'in' }]);
  });

  it.each<[string, Partial<ChangeKeywordInput>, string]>([
    ['words that cannot be read', { welcome: 'Hello {$nobody}' }, 'welcome'],
    [
      'an end before its beginning',
      { valid_from: '2026-12-02T00:00:00Z', valid_to: '2026-12-01T00:00:00Z' },
      'valid_to',
    ],
    ['a tag of nobody', { labels: ['lbl_none'] }, 'labels'],
    ['an offer of nobody', { offer: 'off_none' }, 'offer'],
    ['a sequence of nobody', { sequences: ['seq_none'] }, 'sequences'],
    ['a number of nobody', { sender_numbers: ['+17195550199'] }, 'sender_numbers'],
  ])('refuses %s', async (_, more, field) =>
    expect(await change(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } }),
  );

  it('is not written over by somebody who did not see the last change', async () => {
    const { id, stamp } = await keyword();
    const both = await Promise.all(
      ['One.', 'Other.'].map((welcome) =>
        world.within((scope) => changeKeyword(world.ctx, scope, id, { stamp, welcome }, 'test')),
      ),
    );
    expect(both.filter(({ ok }) => ok)).toHaveLength(1);
  });
});

describe('near misses', () => {
  const count = async (spelling: string, days = 14) => {
    const { id } = await keyword();
    return world.within((scope) => countSpelling(world.ctx, scope, id, { spelling, days }, 'test'));
  };

  it('are gathered by spelling; one act makes it count, and lets those in who wrote it and nothing since', async () => {
    for (const i of [0, 1, 2]) await world.texts(phone(i), 'Skyy');
    await world.texts(phone(2), 'Are you open today?');
    await world.texts(phone(3), 'skyy');
    await world.texts(phone(3), 'STOP');
    const [row] = await world.within((scope) => readNearMisses(scope, world.clock.at));
    expect(row).toMatchObject({ spelling: 'skyy', keyword: 'sky', texts: 4, people: 4 });
    expect(must(await count('skyy'))).toMatchObject({ joined: 2, left: 0 });
    expect((await consents()).filter(({ state }) => state === 'in')).toHaveLength(2);
    await world.texts(phone(4), 'SKYY');
    expect((await consents()).filter(({ state }) => state === 'in')).toHaveLength(3);
    expect(await count('skyy', 0)).toMatchObject({ ok: true });
  });

  it('of days ago are answered in the hours of the law', async () => {
    await world.texts(ANA, 'skyy');
    // Ten at night in Denver.
    world.clock.at += 10 * HOUR;
    must(await count('skyy'));
    expect(await leaves()).toEqual([]);
    world.clock.at += 12 * HOUR;
    expect(await leaves()).toEqual([expect.stringContaining('Clear Sky Alerts')]);
  });

  it('cannot make a reserved word count, or one that people answer for other reasons', async () => {
    expect(await count('stop')).toMatchObject({ ok: false, reason: { problems: [{ field: 'spelling' }] } });
    expect(await count('thanks')).toMatchObject({ ok: false, reason: { problems: [{ field: 'spelling' }] } });
    expect(await count('sky')).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it('are asked about at once where the workspace wants that, once a day, and nobody joins by it', async () => {
    await world.texts(phone(1), 'skyy');
    expect(await leaves()).toEqual([]);
    await world.within(async (scope) => {
      const { stamp } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
      must(await changeWorkspace(world.ctx, scope, { stamp, asks_near_misses: true }, 'test'));
    });
    await world.texts(ANA, 'skyy');
    expect(await leaves()).toEqual([expect.stringMatching(/did you mean SKY\? Reply SKY/)]);
    await world.texts(ANA, 'skyyy');
    expect(await leaves()).toEqual([]);
    expect(await consents()).toEqual([]);
    await world.texts(ANA, 'sky');
    expect(await consents()).toEqual([{ state: 'in' }]);
    // Whoever left is not asked.
    await world.texts(phone(2), 'STOP');
    await leaves();
    world.clock.at += 2 * DAY;
    await world.texts(phone(2), 'skyy');
    expect(await leaves()).toEqual([]);
  });
});

describe('tried out', () => {
  it('is sent to their own proved number, gives nothing, and lets nobody in', async () => {
    const { id } = await offer();
    must(await change({ offer: id, welcome: 'Hello.' }));
    const { id: keywordId, programId } = await keyword();
    const [account] = await world.rows<{ id: string }>(
      `insert into account (id, email, name, password_hash, created_at) select 'acc_me', 'me@example.org', 'Me', 'x', now() where :workspace <> '' returning id`,
    );
    const me = { name: account!.id, accountId: account!.id };
    const tried = () => world.within((scope) => tryKeyword(world.ctx, scope, keywordId, me.accountId));
    expect(await tried()).toMatchObject({ ok: false, reason: { problems: [{ field: 'number' }] } });
    await world.within(async (scope) => {
      must(await askForProof(world.ctx, scope, { number: ANA, programId }, me));
    });
    const [code] = await leaves();
    must(await world.within((scope) => giveProof(world.ctx, scope, /\d{6}/.exec(code!)![0], me)));
    must(await tried());
    expect([(await leaves()).join('')]).toEqual([
      expect.stringMatching(/^Hello\. One free hour\. Code 0000-00000/),
    ]);
    expect(await consents()).toEqual([]);
    expect(await world.rows(`select 1 from voucher where workspace_id = :workspace`)).toEqual([]);
  });
});
