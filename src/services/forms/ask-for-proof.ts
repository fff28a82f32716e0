import { admitSubmission, FROM_ONE_FORM, FOR_ONE_NUMBER, NUMBER_WINDOW } from '@/core/form/limits';
import { submissionFrom, type SubmissionEvent, type SubmissionState } from '@/core/form/lifecycle';
import { inquiryTree } from '@/core/form/inquiry';
import type { Consent } from '@/core/consent/ledger';
import { placeColumns, placeOf } from '@/core/phone/place';
import { doubleOptInText, formProofText } from '@/core/text/wording';
import { cutText } from '@/core/shared/clean-text';
import { DAY, HOUR, type Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import { consentStates } from '@/db/consent/consent';
import { announce, insertTexts } from '@/db/delivery/texts';
import { Form, FormVersion, Submission } from '@/db/forms/entities';
import { lockNumber, proofsAsked, senderOfProgram, submissionsDue } from '@/db/forms/submissions';
import { Arrival, Source } from '@/db/inquiries/entities';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { addressesOf, whoHas } from '@/db/people/addresses';
import { lockPersonByNumber } from '@/db/people/by-number';
import { lockPerson } from '@/db/people/locks';
import type { Person } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import { recordConsent } from '@/services/consent/record-consent';
import { newText } from '@/services/delivery/new-text';
import type { Context } from '@/services/kit/context';
import { asDue, Unworkable, type Queue } from '@/services/kit/trouble';
import { suppressed } from '@/services/people/suppression';
import { wordingOf } from '@/services/programs/wording';
import { dropSubmission } from './held';

/** So long their YES is waited for. */
const PATIENCE: Millis = 3 * DAY;

/** What came by forms, one after the other: each number is asked whether it was them. */
export const SUBMISSION_QUEUE: Queue = {
  name: 'submission',
  rows: {
    named: `(select number from submission s where s.id = x.row_id)`,
    waits: `exists (select 1 from submission s where s.id = x.row_id and s.due_at is not null)`,
  },
  everyMs: 300,
  atOnce: 2,
  untilDone: true,
  wakes: true,
  due: async (reading, untroubled, at) => asDue(await submissionsDue(reading, untroubled('s.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    acrossWorkspaces(ctx.orm, (crossing) => workOn(ctx, crossing.within(workspaceId!), id)),
  giveUp: (ctx, scope, id, actor) => dropSubmission(ctx, scope, id, actor),
};

/** Asks for a proof, or notes that none came. False: it is not waited any more. */
async function workOn(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const now = ctx.now();
  await scope.run(`select 1 from submission where workspace_id = :workspace and id = :id for update`, { id });
  const submission = await scope.em.findOne(Submission, { id }, { refresh: true });
  if (!submission?.dueAt || submission.dueAt.getTime() > now) return false;
  if (submission.state === 'asked') return settle(ctx, scope, submission, 'lapse', 'lapsed');
  const form = await scope.em.findOneOrFail(Form, { id: submission.formId });
  const program = await scope.em.findOneOrFail(Program, { id: form.programId });
  // Of two forms for one number at a time the second sees the first.
  await lockNumber(scope, submission.number);
  // A flood of numbers makes nobody of them before one is asked.
  const [known] = await whoHas(scope, 'number', submission.number);
  const person = known === undefined ? null : await lockPerson(scope, known);
  submission.personId = person?.id ?? null;
  const verdict = admitSubmission(await standingOf(ctx, scope, submission, person, program));
  if (verdict.do === 'refuse') return settle(ctx, scope, submission, 'refuse', 'refused', verdict.because);
  if (verdict.do === 'hold') return settle(ctx, scope, submission, 'hold', 'held', verdict.because);
  const asked = await lockPersonByNumber(scope, {
    ...{ id: ctx.id('per'), number: submission.number, source: `form “${form.name}”`, at: new Date(now) },
    ...placeColumns(placeOf({ number: submission.number })),
  });
  submission.personId = asked.id;
  await ask(ctx, scope, { submission, form, program, person: asked });
  await bringInquiry(ctx, scope, submission, form);
  return settle(ctx, scope, submission, 'ask', 'asked');
}

async function settle(
  ctx: Context,
  scope: Scope,
  submission: Submission,
  event: SubmissionEvent,
  state: SubmissionState,
  because: string | null = null,
): Promise<boolean> {
  if (!submissionFrom(event).includes(submission.state))
    throw new Error(`A form that is ${submission.state} cannot ${event}`);
  const now = ctx.now();
  Object.assign(submission, {
    ...{ state, because },
    ...(event === 'ask'
      ? { askedAt: new Date(now), dueAt: new Date(now + PATIENCE) }
      : { dueAt: null, settledAt: new Date(now) }),
  });
  await scope.em.flush();
  await announce(scope, event === 'ask');
  return true;
}

async function standingOf(
  ctx: Context,
  scope: Scope,
  { number, formId, released }: Submission,
  person: Person | null,
  program: Program,
) {
  const now = ctx.now();
  const consents = person ? await consentStates(scope, person.id, 'sms', number) : new Map<string, Consent>();
  const addresses = person ? await addressesOf(scope, [person.id]) : [];
  const address = addresses.find(({ value }) => value === number);
  const asked = await proofsAsked(scope, {
    ...{ number, formId, numberSince: new Date(now - NUMBER_WINDOW), formSince: new Date(now - HOUR) },
    most: Math.max(FROM_ONE_FORM, FOR_ONE_NUMBER),
  });
  return {
    out:
      (person !== null && person.stoppedAt !== null) ||
      consents.get(program.id)?.state === 'out' ||
      (await suppressed(scope, [number])).size > 0,
    landline: address?.line_type === 'landline',
    ...{ ofNumber: asked.of_number, ofForm: asked.of_form, released },
  };
}

interface Asking {
  submission: Submission;
  form: Form;
  program: Program;
  person: Person;
}

/** The question whether it was them: all that is sent before they say YES. */
async function ask(ctx: Context, scope: Scope, { submission, form, program, person }: Asking): Promise<void> {
  const { number, version } = submission;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const { wording } = await scope.em.findOneOrFail(FormVersion, { formId: form.id, version });
  const senderId = await senderOfProgram(scope, program.id, person.id);
  if (senderId === null)
    throw new Unworkable(`${program.name} has no number to text from. Add one on its page, then try again.`);
  const state = (await consentStates(scope, person.id, 'sms', number)).get(program.id)?.state ?? 'none';
  if (state !== 'in' && state !== 'asked')
    await recordConsent(ctx, scope, {
      ...{ personId: person.id, programId: program.id, channel: 'sms', address: number, kind: 'asked' },
      method: 'form',
      evidence: evidenceOf(submission, form, wording),
    });
  const words = wordingOf(workspace, program);
  await insertTexts(scope, [
    newText(ctx, {
      ...{ personId: person.id, address: number, programId: program.id, senderId, inboundId: null },
      ...{ workspace, kind: 'question', createdBy: null },
      body: state === 'in' ? formProofText(words) : doubleOptInText(words),
    }),
  ]);
}

/**
 * Who sends a form of a source asks something, and is answered like whoever asks elsewhere: by its sequences, which may
 * answer the question and nothing more until they say YES. What is held for a human brings nothing.
 */
async function bringInquiry(
  ctx: Context,
  scope: Scope,
  { id, number, filled }: Submission,
  form: Form,
): Promise<void> {
  const source =
    form.sourceId === null ? null : await scope.em.findOne(Source, { id: form.sourceId, closedAt: null });
  if (!source) return;
  const at = new Date(ctx.now());
  await scope.em.insert(Arrival, {
    ...{ id: ctx.id('arr'), workspaceId: scope.workspaceId, sourceId: source.id, state: 'received' },
    ...{ format: 'form', content: inquiryTree(form.name, number, filled), digest: `submission ${id}` },
    ...{ because: null, inquiryId: null, at, settledAt: null, dueAt: at },
  });
}

/** What is written down of how they agreed. */
export const evidenceOf = (
  { address, agent, version }: Pick<Submission, 'address' | 'agent' | 'version'>,
  { id, name }: Pick<Form, 'id' | 'name'>,
  wording: string,
) => ({
  ...{
    wording,
    source: `form “${cutText(name, 100)}”, version ${version}`,
    formId: id,
    formVersion: version,
  },
  ...{ address, agent },
});
