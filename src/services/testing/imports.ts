import { importRow, type ImportRow } from '@/db/imports/imports';
import type { LineLookup } from '@/gateways/lookup';
import { advanceImports } from '@/services/imports/engine';
import { checkImport, createImport, runImport } from '@/services/imports/imports';
import type { ImportInput } from '@/services/imports/inputs';
import { must } from './people';
import type { World } from './world';

const ME = { name: 'test', accountId: null };
export const WORDING = 'I agree to get texts about the night sky.';

/** Every number is a mobile, but those that end with 0199. */
const LOOKUP: LineLookup = {
  lookUp: (numbers) =>
    Promise.resolve(
      new Map(numbers.map((number) => [number, number.endsWith('0199') ? 'landline' : 'mobile'])),
    ),
};

/** A file of five rows: two new people, one of them twice, one without a number, one with a landline. */
export const FILE = `First name,Phone,Favourite planet
Ana,(303) 555-0101,Mars
Ben,3035550102.0,Venus
Ana again,303.555.0101,Mars
Nobody,none,Mars
Fix,303 555 0199,`;

export const bytesOf = (text: string) =>
  (async function* () {
    yield new Uint8Array(Buffer.from(text));
  })();

/** Imports as somebody does them, each step worked through to its end; `world` is asked at each use. */
export class ImportDesk {
  constructor(readonly world: () => World) {}

  /** `ctx` may be one that dies on the way. */
  work = (ctx = this.world().ctx) => advanceImports(ctx, LOOKUP);
  read = async (id: string): Promise<ImportRow> =>
    (await this.world().within((scope) => importRow(scope, id)))!;

  upload = async (text: string, name = 'people.csv'): Promise<ImportRow> => {
    const { ctx, within } = this.world();
    const { id } = must(
      await within((scope) => createImport(ctx, scope, { name, bytes: bytesOf(text) }, ME)),
    );
    await this.work();
    return this.read(id);
  };

  check = async (row: ImportRow, more: Partial<ImportInput> = {}): Promise<ImportRow> => {
    const { ctx, within } = this.world();
    const columns = row.mapping.map(({ to, kind, order }) => ({
      to,
      ...(kind ? { kind } : {}),
      ...(order ? { order } : {}),
    }));
    const input = { name: row.name, columns, update: true, tags: ['Fair'], ...more } as ImportInput;
    must(await within((scope) => checkImport(ctx, scope, row.id, input, ME)));
    await this.work();
    return this.read(row.id);
  };

  run = async (row: ImportRow): Promise<ImportRow> => {
    const { ctx, within } = this.world();
    must(await within((scope) => runImport(ctx, scope, row.id, ME)));
    await this.work();
    return this.read(row.id);
  };

  /** What a file must say to bring consent to the only program. */
  consent = async () => {
    const [program] = await this.world().rows<{ id: string }>(
      `select id from program where workspace_id = :workspace`,
    );
    return { program: program!.id, consent_wording: WORDING, consent_date: '2026-11-20' };
  };

  people = () =>
    this.world().rows<{ number: string; first_name: string | null; line_type: string; fields: object }>(
      `select number, first_name, last_name, line_type, fields from person where workspace_id = :workspace order by number`,
    );

  /** Somebody's consent; undefined: none was ever recorded. */
  state = async (number: string): Promise<string | undefined> => {
    const [row] = await this.world().rows<{ state: string }>(
      `select c.state from consent_state c join person p on p.id = c.person_id where p.workspace_id = :workspace and p.number = :number`,
      { number },
    );
    return row?.state;
  };
}
