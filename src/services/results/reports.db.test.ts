import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { TeammateMail } from '@/db/email/entities';
import { workThrough } from '@/services/kit/trouble';
import { must } from '@/services/testing/people';
import { broadcastTo, deliverTo } from '@/services/testing/sending';
import { makeWorld, NOON, type World } from '@/services/testing/world';
import { tablesAsFile } from './export';
import type { ReportInput } from './inputs';
import {
  dropReport,
  endSharing,
  findReport,
  keepReport,
  readReport,
  readSharedReport,
  REPORT_QUEUE,
  shareReport,
} from './reports';

let world: World;
const ME = { name: 'test', accountId: null };
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const keep = (input: Partial<ReportInput> = {}) =>
  world.within((scope) =>
    keepReport(
      world.ctx,
      scope,
      { name: 'Monday figures', place: 'overview', query: 'days=7', ...input },
      ME,
    ),
  );
const letters = () =>
  world.within((scope) => scope.em.find(TeammateMail, {}, { orderBy: { createdAt: 'asc' } }));
const weekly: Partial<ReportInput> = {
  every: 'week',
  at_hour: 8,
  recipients: ['Ana@example.org', 'ben@example.org'],
};

describe('a report', () => {
  it('is sent when it is due, once however long nothing ran, and says what happened', async () => {
    await broadcastTo(world, 4);
    await deliverTo(world, 4, {});
    const { id } = must(await keep(weekly));
    expect(await workThrough(world.ctx, REPORT_QUEUE)).toBe(0);
    // Monday at eight in Denver, after three of them have passed.
    world.clock.at = NOON + 21 * DAY;
    expect(await workThrough(world.ctx, REPORT_QUEUE)).toBe(1);
    expect(await workThrough(world.ctx, REPORT_QUEUE)).toBe(0);
    const sent = await letters();
    expect(sent.map(({ address }) => address).sort()).toEqual(['ana@example.org', 'ben@example.org']);
    expect(sent[0]!.body).toContain('overview');
    const report = await world.within((scope) => findReport(scope, id));
    expect(report!.dueAt!.toISOString()).toBe('2026-12-21T15:00:00.000Z');
  });

  it('is shown by its link until that ends, and by no other', async () => {
    await broadcastTo(world, 3);
    const { id } = must(await keep({ place: 'works', query: 'compare=keyword&days=1' }));
    world.clock.at += DAY;
    const { key } = must(await world.within((scope) => shareReport(world.ctx, scope, id, 7, ME)));
    expect(await readSharedReport(world.ctx, key)).toMatchObject({
      name: 'Monday figures',
      tables: [{ name: 'keyword by stayed', rows: [['SKY', 3, 3, 1, expect.any(Number), 1, 'too few']] }],
    });
    expect(await readSharedReport(world.ctx, [...key].reverse().join(''))).toBeNull();
    const { key: other } = must(await world.within((scope) => shareReport(world.ctx, scope, id, 7, ME)));
    expect(await readSharedReport(world.ctx, key)).toBeNull();
    world.clock.at += 7 * DAY;
    expect(await readSharedReport(world.ctx, other)).toBeNull();
    const { key: third } = must(await world.within((scope) => shareReport(world.ctx, scope, id, 7, ME)));
    must(await world.within((scope) => endSharing(world.ctx, scope, id, ME)));
    expect(await readSharedReport(world.ctx, third)).toBeNull();
  });

  it.each([
    [{ recipients: ['nobody'], every: 'day' as const }, 'recipients'],
    [{ every: 'day' as const }, 'recipients'],
    [{ query: 'days=0' }, 'days'],
    [{ query: 'from=2026-02-31' }, 'from'],
  ])('is refused with %j', async (input, field) =>
    expect(await keep(input)).toMatchObject({ reason: { problems: [{ field }] } }),
  );

  it('of nothing is a report, and so is one of a program that is no more', async () => {
    for (const place of ['overview', 'works', 'keeping', 'speed'] as const) {
      const report = must(await keep({ place, query: 'program=prg_gone&days=28' }));
      const shown = must(await world.within((scope) => readReport(world.ctx, scope, report)));
      expect(shown.tables.length).toBeGreaterThan(0);
    }
  });

  it('that cannot be read backs off, and the others are sent', async () => {
    const bad = must(await keep(weekly));
    must(await keep({ ...weekly, name: 'Good' }));
    await world.within((scope) =>
      scope.run(`update report set query = 'days=0' where workspace_id = :workspace and id = :id`, {
        id: bad.id,
      }),
    );
    world.clock.at = NOON + 7 * DAY;
    await workThrough(world.ctx, REPORT_QUEUE);
    expect((await letters()).map(({ subject }) => subject.split(':')[0])).toEqual(['Good', 'Good']);
    world.clock.at += HOUR;
    must(await world.within((scope) => dropReport(world.ctx, scope, bad.id, ME)));
    expect(await workThrough(world.ctx, REPORT_QUEUE)).toBe(0);
  });

  it('leaves as a file of each format, and no cell of it is a formula', async () => {
    const tables = [
      {
        name: 'works',
        columns: ['what', 'share'],
        rows: [
          ['=1+1, "so"', 0.5],
          ['plain', null],
        ],
      },
    ];
    const csv = await tablesAsFile(tables, 'csv', 'r');
    expect(csv.body).toBe(`\uFEFFworks\r\nwhat,share\r\n"'=1+1, ""so""",0.5\r\nplain,\r\n`);
    const jsonl = await tablesAsFile(tables, 'jsonl', 'r');
    expect(
      String(jsonl.body)
        .trim()
        .split('\n')
        .map((line) => JSON.parse(line) as object),
    ).toEqual([
      { table: 'works', what: '=1+1, "so"', share: 0.5 },
      { table: 'works', what: 'plain', share: null },
    ]);
    const xlsx = await tablesAsFile(tables, 'xlsx', 'r');
    expect(
      Buffer.from(xlsx.body as Uint8Array)
        .subarray(0, 2)
        .toString(),
    ).toBe('PK');
  });
});
