import { expect } from 'vitest';
import { addSenderNumber } from '@/services/access/create-workspace';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import { createProgram } from '@/services/programs/create-program';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { addCrowd, fictionNumbers } from '@/services/testing/crowd';
import { until } from './app';
import { ME, type House, type Works } from './works';

/** Somebody goes through two lines, a minute apart: as many people as are said, begun by a tag that all of them have. */
export class Series {
  private constructor(
    private readonly works: Works,
    private readonly house: House,
    private readonly people: number,
  ) {}

  static async begin(works: Works, people: number): Promise<Series> {
    const house = await works.house('series');
    const { ctx, within } = house;
    await works.toNoon();
    await within((scope) =>
      addSenderNumber(ctx, scope, {
        ...{ number: '55502', kind: 'short-code', registration: 'registered', partsPerSecond: 350 },
      }),
    );
    const label = await within(async (scope) => {
      const program = await createProgram(ctx, scope, { name: 'Series', purpose: 'utility' }, 'test');
      const tag = await findOrMakeLabel(ctx, scope, 'tag', 'series', 'test');
      if (!program.ok || !tag.ok) throw new Error('refused');
      await addCrowd(scope, program.value.id, people, { name: 'series' });
      const text = (id: string, when: object, body: string) => ({
        ...{ id, when, late: 'go', what: { do: 'text', body } },
      });
      const document = {
        ...{ format: 'steady-wren/sequence/1', name: 'Series', program: program.value.id, hours: null },
        ...{ begins: [{ on: 'tag', label: tag.value.id }], only: null, again: { rule: 'never' } },
        ...{ grace_minutes: 0, ends: [] },
        lines: [
          text('a', { at: 'once' }, 'First line.'),
          text('b', { at: 'after', minutes: 1, from: 'before' }, 'Second line.'),
        ],
      };
      const made = await createSequence(ctx, scope, { document }, ME);
      if (!made.ok) throw new Error(JSON.stringify(made.reason));
      const published = await publishSequence(ctx, scope, made.value.id, { stamp: 1 }, ME);
      if (!published.ok) throw new Error(JSON.stringify(published.reason));
      return tag.value.id;
    });
    await within(async (scope) => {
      const people = await scope.rows<{ id: string }>(
        `select id from person where workspace_id = :workspace`,
      );
      await setLabel(
        ctx,
        scope,
        label,
        people.map(({ id }) => id),
        true,
      );
    });
    return new Series(works, house, people);
  }

  /** How many messages there are in each state. */
  messages = () =>
    this.house.within((scope) =>
      scope.rows<{ state: string; n: number }>(
        `select state, count(*)::int as n from message where workspace_id = :workspace group by state`,
      ),
    );

  enrolled = async () =>
    (
      await this.house.within((scope) =>
        scope.rows<{ n: number }>(`select count(*)::int as n from enrolment where workspace_id = :workspace`),
      )
    )[0]!.n;

  /** Lets the minutes pass until nothing is on its way; then everybody had each line once at most, and nobody was lost. */
  async expectOnceEach(): Promise<void> {
    const { bench } = this.works;
    for (let minute = 0; minute < 3; minute++) {
      await bench.advance('PT1M');
      await new Promise((resolve) => setTimeout(resolve, 1_500));
    }
    const settled = (rows: { state: string; n: number }[], n: number) =>
      rows.every(({ state }) => state === 'delivered' || state === 'unconfirmed') &&
      rows.reduce((sum, row) => sum + row.n, 0) === n;
    await until(this.messages, (rows) => settled(rows, 2 * this.people), 60_000);
    const got = await Promise.all(
      fictionNumbers(this.people).map(async (number) => {
        const bodies = (await bench.texts(number)).map(({ body }) => body);
        return ['First line.', 'Second line.'].map((one) => bodies.filter((body) => body === one).length);
      }),
    );
    // What a kill met on its way is not sent again on a guess; whether it came shows in what the handset has.
    expect(await this.enrolled()).toBe(this.people);
    expect(Math.max(...got.flat())).toBe(1);
    const unconfirmed = (await this.messages()).find(({ state }) => state === 'unconfirmed')?.n ?? 0;
    const came = got.flat().reduce((sum, n) => sum + n, 0);
    expect(came).toBeGreaterThanOrEqual(2 * this.people - unconfirmed);
  }
}
