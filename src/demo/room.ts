import type { Condition } from '@/core/audience/condition';
import { inWorkspace } from '@/db/kit/scope';
import { createBatch, runBatchSlice } from '@/services/batches/batches';
import type { Context } from '@/services/kit/context';
import { findPairs } from '@/services/people/duplicates';
import { editPerson } from '@/services/people/edit-person';
import { advanceImports } from '@/services/imports/engine';
import { checkImport, createImport, runImport } from '@/services/imports/imports';
import { findOrMakeLabel } from '@/services/people/labels';
import { addField } from '@/services/audience/own-fields';
import type { BatchInput } from '@/services/batches/inputs';
import type { ImportInput } from '@/services/imports/inputs';
import { lineLookup } from '@/services/kit/settings';
import { addStage } from '@/services/people/stages';
import { importRow } from '@/db/imports/imports';
import { must } from './world';

/** Rows of a sign-up sheet as somebody typed it: dress, damage, a duplicate, a landline, one who left. */
const SHEET = `Name,Mobile,E-mail,ZIP,Favourite planet,Visits
"Ferncliff, Ida",(720) 555-0172,ida@example.org,80202,Saturn,3
Ida Fernclif,720-555-0173,ida.f@example.org,80202,Saturn,1
Corin Ashgrove,1.7205550174E+10,corin@example.org,80203,Mars,2
Perrin Yarrowby,7205550175.0,perrin@example.org,80205,Jupiter,7
Perrin Yarrowby,720.555.0176,PERRIN@example.org,80206,Jupiter,1
Wanda Coldwater,+1 720 555 0177,,80209,Saturn,many
Old Desk Phone,(307) 555-0192,desk@example.org,82001,,
Ida again,7205550172,,,,
Nobody,to follow,,,,
Elif Hawkstone,720 555 0178 ext. 4,elif@example.org,80210,Neptune,4
`;

/** People as a team keeps them after a while: fields, stages, tags, an import, batches. All by the services. */
export async function furnishRoom(ctx: Context, workspaceId: string, accountId: string): Promise<void> {
  const me = { name: accountId, accountId };
  const within = <T>(work: Parameters<typeof inWorkspace<T>>[2]) => inWorkspace(ctx.orm, workspaceId, work);
  await within(async (scope) => {
    must(await addField(ctx, scope, { label: 'Favourite planet', kind: 'text' }, accountId));
    must(await addField(ctx, scope, { label: 'Visits', kind: 'number' }, accountId));
    for (const stage of ['Curious', 'Visited', 'Regular', 'Friend of the dome'])
      must(await addStage(ctx, scope, stage, accountId));
  });
  await importSheet(ctx, within, me);
  const names = await within((scope) =>
    scope.rows<{ kind: string; id: string; name: string }>(
      `select 'program' as kind, id, name from program where workspace_id = :workspace union all select 'stage', id, name from stage where workspace_id = :workspace
       union all select 'broadcast', id, name from broadcast where workspace_id = :workspace`,
    ),
  );
  const id = (name: string) => names.find((one) => one.name === name)!.id;
  const replied: Condition = { ask: 'did', has: true, act: 'replied', of: {}, days: 90 };
  const alerts: Condition = { ask: 'consent', program: id('Clear Sky Alerts'), state: 'in', has: true };
  const batch = (order: Omit<BatchInput, 'condition' | 'grace_seconds'>, condition: Condition) =>
    within(async (scope) =>
      must(
        await createBatch(
          ctx,
          scope,
          { ...order, condition: JSON.stringify(condition), grace_seconds: 0 },
          me,
        ),
      ),
    );
  const tag = (name: string) =>
    within(async (scope) => must(await findOrMakeLabel(ctx, scope, 'tag', name, accountId)));
  await batch(
    { name: 'Wrote back this season', action: 'add-label', id: (await tag('writes back')).id },
    { all: [replied] },
  );
  await batch(
    { name: 'Saturn crowd', action: 'add-label', id: (await tag('Saturn')).id },
    { all: [{ ask: 'did', has: true, act: 'replied', of: { broadcast: id('Saturn week') } }] },
  );
  await batch(
    { name: 'Regulars by replies', action: 'stage', id: id('Regular') },
    { all: [alerts, replied] },
  );
  await batch(
    { name: 'Curious ones', action: 'stage', id: id('Curious') },
    { all: [alerts, { ask: 'field', field: 'stage', test: 'empty' }] },
  );
  while (await runBatchSlice(ctx));
  await within((scope) => findPairs(ctx, scope));
}

async function importSheet(
  ctx: Context,
  within: <T>(work: Parameters<typeof inWorkspace<T>>[2]) => Promise<T>,
  me: { name: string; accountId: string },
): Promise<void> {
  const lookup = lineLookup();
  const bytes = (async function* () {
    yield new Uint8Array(Buffer.from(SHEET));
  })();
  const made = await within(async (scope) =>
    must(await createImport(ctx, scope, { name: 'Open dome evening.csv', bytes }, me)),
  );
  await advanceImports(ctx, lookup);
  const row = (await within((scope) => importRow(scope, made.id)))!;
  await within(async (scope) => {
    const [program] = await scope.rows<{ id: string }>(
      `select id from program where workspace_id = :workspace and name = 'Dome Members'`,
    );
    const input: ImportInput = {
      name: 'Open dome evening',
      columns: row.mapping.map(({ to }) => ({ to })),
      update: true,
      tags: ['open dome evening'],
      program: program!.id,
      consent_wording:
        'I agree to get texts from Juniper Gap Observatory: Dome Members. Msg & data rates may apply. Reply STOP to stop.',
      consent_date: new Date(ctx.now() - 86_400_000).toISOString().slice(0, 10),
    };
    must(await checkImport(ctx, scope, made.id, input, me));
  });
  await advanceImports(ctx, lookup);
  await within(async (scope) => must(await runImport(ctx, scope, made.id, me)));
  await advanceImports(ctx, lookup);
  await within(async (scope) => {
    const [person] = await scope.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and number = '+17205550175'`,
    );
    must(await editPerson(ctx, scope, person!.id, 'own.visits', '8', me.name));
  });
}
