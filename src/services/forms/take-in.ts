import { createHash } from 'node:crypto';
import type { FormDocument } from '@/core/form/document';
import { ADDRESS_WINDOW, looksMade } from '@/core/form/limits';
import { formPage, sentencePage, sentPage, TRAP, type FormView } from '@/core/form/page';
import { readFilledIn, shownFields, type FilledIn, type Problems, type Typed } from '@/core/form/read';
import { displayNumber } from '@/core/phone/number';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { noteVisit, type NewSubmission, type PublicFormRow } from '@/db/forms/public';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { intakeOf } from './intake';
import { readingIn } from '@/services/questions/reading';

/** The address of the script that counts and lets a frame grow. */
const SCRIPT = '/f/form.js';

export interface Answered {
  status: 200 | 404 | 410 | 422 | 429;
  html: string;
}

/** What the page of a form says, drawn anew. Null: there is none with this code. */
export async function drawForm(ctx: Context, code: string): Promise<Answered | null> {
  const form = await intakeOf(ctx).form(code);
  const shown = form && viewOf(ctx, form, {}, {});
  if (!shown) return null;
  return form.closed
    ? { status: 410, html: sentencePage(shown, 'over') }
    : { status: 200, html: formPage(shown) };
}

function viewOf(ctx: Context, form: PublicFormRow, typed: Typed, problems: Problems): FormView | null {
  if (!form.document || form.wording === null) return null;
  const { document } = form;
  return {
    ...{ document, wording: form.wording, business: form.business, typed, problems, script: SCRIPT },
    fields: shownFields(document.fields, form.own),
    ...{ termsUrl: form.terms_url, privacyUrl: form.privacy_url },
    picture: pictureOf(document),
    press: pressOf(typed) ?? Buffer.from(ctx.bytes(12)).toString('base64url'),
    drawnAt: drawnAt(typed) ?? ctx.now(),
  };
}

/** Where the picture of a form is. */
const pictureOf = ({ look }: FormDocument): string | null => (look.picture ? `/m/${look.picture}` : null);

const PRESS = /^[\w-]{8,40}$/;

const pressOf = ({ press = '' }: Typed): string | null => (PRESS.test(press) ? press : null);

function drawnAt({ drawn = '' }: Typed): number | null {
  return /^\d{12,15}$/.test(drawn) ? Number(drawn) : null;
}

/** Where a submission came from: kept as evidence. */
export interface Origin {
  address: string;
  agent: string;
}

/**
 * Takes a filled-in form: what is wrong with it, or that it was sent. What is kept is one row; whether the number may be
 * texted is decided by the worker, and the page says the same to everybody. Null: there is no such form.
 */
export async function takeIn(
  ctx: Context,
  code: string,
  typed: Typed,
  origin: Origin,
): Promise<Answered | null> {
  const form = await intakeOf(ctx).form(code);
  const view = form && viewOf(ctx, form, typed, {});
  if (!view) return null;
  if (form.closed) return { status: 410, html: sentencePage(view, 'over') };
  const { filled, problems } = read(ctx, form, view, typed);
  if (Object.keys(problems).length > 0) return { status: 422, html: formPage({ ...view, problems }) };
  const kept = await intakeOf(ctx).keep(rowOf(ctx, form, { filled, typed, origin }));
  if (!kept) return { status: 429, html: sentencePage(view, 'too-many') };
  const number = displayNumber(filled.number);
  return { status: 200, html: sentPage({ ...view, number, sender: displayNumber(form.sender) }) };
}

function read(
  ctx: Context,
  form: PublicFormRow,
  { fields }: FormView,
  typed: Typed,
): { filled: FilledIn; problems: Problems } {
  const { country } = form;
  const result = readFilledIn(fields, typed, { ...readingIn(form.zone, ctx.now()), country });
  if (typed.agree !== 'yes') result.problems.agree = 'agree';
  return result;
}

const LONGEST_AGENT = 300;

function rowOf(
  ctx: Context,
  form: PublicFormRow,
  { filled, typed, origin }: { filled: FilledIn; typed: Typed; origin: Origin },
): NewSubmission {
  const at = ctx.now();
  const made = looksMade({ trap: typed[TRAP] ?? '', drawnAt: drawnAt(typed), at });
  const number = filled.number!;
  return {
    ...{ id: ctx.id('sub'), workspaceId: form.workspace_id, formId: form.id, version: form.version! },
    ...{ number, filled: filled.values },
    // Without one it is told by what it says: the same within an hour is the same.
    press: pressOf(typed) ?? hashOf(`${number} ${origin.address} ${Math.floor(at / ADDRESS_WINDOW)}`),
    ...{ address: origin.address, agent: cutText(cleanText(origin.agent), LONGEST_AGENT) },
    ...(made
      ? { state: 'dropped' as const, because: 'machine' }
      : { state: 'received' as const, because: null }),
    at: new Date(at),
  };
}

const hashOf = (text: string): string => createHash('sha256').update(text).digest('base64url').slice(0, 24);

/** A browser drew the form, and how far somebody came in it. */
export async function noteSeen(
  ctx: Context,
  code: string,
  { press, furthest }: { press: string; furthest: number },
): Promise<void> {
  if (!PRESS.test(press) || !Number.isInteger(furthest) || furthest < 0 || furthest > 50) return;
  await acrossWorkspaces(ctx.orm, (crossing) =>
    noteVisit(crossing, { code, press, furthest, at: new Date(ctx.now()) }),
  );
}
