import { shownFields } from '@/core/form/read';
import { formCounts, leftAt, submissionsOf, type FormCounts } from '@/db/forms/submissions';
import { Form, FormLabel, FormSequence, FormVersion } from '@/db/forms/entities';
import { Workspace } from '@/db/access/entities';
import { Source } from '@/db/inquiries/entities';
import type { Scope } from '@/db/kit/scope';
import { keptPictures } from '@/services/media/files';
import { Offer } from '@/db/offers/entities';
import { Label } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import { Sequence } from '@/db/sequences/entities';
import { ownFields } from '@/services/audience/own-fields';
import { publicUrl } from '@/services/kit/settings';
import { promised } from '@/services/programs/change-program';
import { wordingOfForm } from './forms';

export const formAddress = ({ code }: Pick<Form, 'code'>): string => `${publicUrl()}/f/${code}`;

/** Forms with what came of them. */
export async function readForms(scope: Scope) {
  const forms = await scope.em.find(Form, {}, { orderBy: { createdAt: 'desc', id: 'desc' } });
  const counts = new Map((await formCounts(scope)).map((row) => [row.id, row]));
  const programs = await scope.em.find(Program, {}, { orderBy: { name: 'asc' } });
  return {
    forms: forms.map((form) => ({
      form,
      counts: counts.get(form.id)!,
      program: programs.find(({ id }) => id === form.programId)!,
    })),
    programs: programs.filter(({ archivedAt }) => archivedAt === null),
  };
}

/** What came of a form, with where those left who began it and sent nothing. */
export interface FormResult {
  counts: Omit<FormCounts, 'id'>;
  left: { field: string; people: number }[];
}

export async function readFormResult(scope: Scope, form: Form): Promise<FormResult> {
  const { id: _, ...counts } = (await formCounts(scope)).find(({ id }) => id === form.id)!;
  const shown =
    form.version === null
      ? null
      : await scope.em.findOneOrFail(FormVersion, { formId: form.id, version: form.version });
  const fields = shown ? shownFields(shown.document.fields, await ownFields(scope)) : [];
  return {
    counts,
    left: (await leftAt(scope, form.id)).map(({ furthest, people }) => ({
      // After the fields comes the box.
      ...{ field: fields[furthest - 1]?.field ?? 'agree', people },
    })),
  };
}

/** Everything the page of a form shows. */
export async function readFormScreen(scope: Scope, id: string) {
  const form = await scope.em.findOne(Form, { id });
  if (!form) return null;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const program = await scope.em.findOneOrFail(Program, { id: form.programId });
  const byName = { orderBy: { name: 'asc' } } as const;
  const agreement = { business: workspace.business, program: program.name, promise: promised(program) };
  return {
    ...{ form, workspace, program, agreement, address: formAddress(form) },
    labels: (await scope.em.find(FormLabel, { formId: id })).map(({ labelId }) => labelId),
    sequences: (await scope.em.find(FormSequence, { formId: id })).map(({ sequenceId }) => sequenceId),
    versions: await scope.em.find(FormVersion, { formId: id }, { orderBy: { version: 'desc' } }),
    wording: await wordingOfForm(scope, form),
    result: await readFormResult(scope, form),
    submissions: await submissionsOf(scope, id, { state: null, most: 50 }),
    choices: {
      own: await ownFields(scope),
      labels: await scope.em.find(Label, {}, byName),
      sequences: await scope.em.find(Sequence, { state: ['running', 'paused'] }, byName),
      sources: await scope.em.find(Source, { closedAt: null }, byName),
      offers: await scope.em.find(Offer, { archivedAt: null }, byName),
      pictures: await keptPictures(scope),
    },
  };
}

/** A version as it was shown, for whoever asks what somebody agreed to. */
export async function readFormVersion(scope: Scope, id: string, version: number) {
  const form = await scope.em.findOne(Form, { id });
  const shown = form && (await scope.em.findOne(FormVersion, { formId: id, version }));
  if (!form || !shown) return null;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const own = (await ownFields(scope, true)).map(({ key, label, kind, options }) => ({
    ...{ key, label, kind, options },
  }));
  return { form, shown, workspace, own };
}
