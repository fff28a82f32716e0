'use server';
import { commaList } from '@/core/shared/comma-list';
import { pressOf } from '../../../press-of';
import { redirect } from 'next/navigation';
import {
  checkImport,
  chooseOtherNames,
  dropImport,
  readAnew,
  runImport,
  stopImport,
  undoImport,
} from '@/services/imports/imports';
import { ImportInput, ReadAnewInput } from '@/services/imports/inputs';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import type { MappingValues } from '@/ui/imports/import-mapping';
import { actorOf, change, requireSession } from '../../../session';
import { sentence, stateOf, typed } from '../../form-result';

/** Starts the trial run; gives a sentence when something is missing. */
export async function checkImportAction(id: string, values: MappingValues): Promise<string | null> {
  await requireSession();
  const { tags, list, program, wording, date, channels, onKnown, standing, ...rest } = values;
  const data = {
    ...rest,
    ...{ update: onKnown !== 'leave', only_empty: onKnown === 'fill' },
    columns: values.columns.map(({ to, label, kind, order }) => ({
      to,
      ...(to === 'new' ? { label, kind } : {}),
      ...(kind && to.startsWith('own.') ? { kind } : {}),
      ...(order ? { order } : {}),
    })),
    tags: commaList(tags),
    ...(list.trim() ? { list: list.trim() } : {}),
    ...(program ? { program } : {}),
    ...(standing === 'left' ? { left: true } : {}),
    ...(standing === 'agreed'
      ? {
          ...{ consent_wording: wording, consent_channels: channels },
          ...(date ? { consent_date: date } : {}),
        }
      : {}),
  };
  const input = await readInput(ImportInput, data);
  const result = input.ok
    ? await change('edit-people', (scope, session, ctx) => {
        if (standing === 'agreed' && !wording.trim())
          return Promise.resolve({
            ok: false as const,
            reason: {
              code: 'invalid' as const,
              problems: [
                { field: 'consent_wording', message: 'consent_wording: give the words people agreed to.' },
              ],
            },
          });
        return checkImport(ctx, scope, id, input.value, actorOf(session));
      })
    : input;
  return result.ok ? null : sentence(result.reason);
}

const ACTS = { run: runImport, stop: stopImport, undo: undoImport };

export async function actOnImportAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', act = '' } = typed(data);
  if (act === 'drop') {
    const dropped = await change(
      'edit-people',
      (scope, session, ctx) => dropImport(ctx, scope, id, actorOf(session)),
      pressOf(data),
    );
    if (dropped.ok) redirect('/people/imports');
    return stateOf(dropped, {}, '');
  }
  const move = ACTS[act as keyof typeof ACTS] ?? stopImport;
  return stateOf(
    await change(
      'edit-people',
      (scope, session, ctx) => move(ctx, scope, id, actorOf(session)),
      pressOf(data),
    ),
    {},
    '',
  );
}

/** Another sheet, or another row as the header. */
export async function readAnewAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', sheet, header = '' } = typed(data);
  const input = await readInput(ReadAnewInput, {
    ...(sheet === undefined ? {} : { sheet: Number(sheet) }),
    ...(header === '' ? {} : { header_line: header === 'none' ? null : Number(header) }),
  });
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await change('edit-people', (scope, session, ctx) =>
      readAnew(ctx, scope, id, input.value, actorOf(session)),
    ),
    {},
    'Read anew.',
  );
}

/** Whether rows are about whoever has their number under another name. */
export async function otherNamesAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', line = '', choice } = typed(data);
  const wanted = {
    line: line === '' ? null : Number(line),
    choice: choice === 'take' ? ('take' as const) : ('leave' as const),
  };
  return stateOf(
    await change('edit-people', (scope, session, ctx) =>
      chooseOtherNames(ctx, scope, id, wanted, actorOf(session)),
    ),
    {},
    '',
  );
}
