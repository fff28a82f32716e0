import { MOST_MINUTES, type Companion } from '@/core/broadcast/companion';
import type { Instead } from '@/core/broadcast/instead';
import { MOST_FILES } from '@/core/media/kinds';
import { CHANNELS } from '@/core/message/channel';
import { cutText } from '@/core/shared/clean-text';
import { parseJson } from '@/core/shared/json';
import type { SignedIn } from '@/services/access/sessions';
import type { DraftQuestion } from '@/services/clearance/report-clearance';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import { invalid, readInput, type Refusal } from '@/services/kit/validation';
import { TimingInput } from '@/services/sends/inputs';
import { readLocal, readTiming } from '@/services/sends/read-timing';
import type { Scope } from '@/services/kit/scope';
import { ok, type Result } from '@/core/shared/result';
import { draftTiming, draftWordings, instantOfLocal, timingFields } from '../draft-question';

/** The question a draft asks, from what the screen sent. A time that cannot be read, or is past, is now. */
export async function questionOf(
  scope: Scope,
  body: Record<string, string | null>,
  session: SignedIn,
  now: number,
): Promise<Result<DraftQuestion, Refusal>> {
  const program = await findProgram(scope, body.program ?? '');
  if (!program) return invalid('program', NO_PROGRAM);
  const input = await readInput(TimingInput, timingFields(draftTiming(body.timing), session.workspaceZone));
  if (!input.ok) return input;
  const timing = await readTiming(scope, program, input.value);
  if (!timing.ok) return timing;
  const local = body.local ? await readLocal(scope, program.id, body.local) : null;
  if (local && !local.ok) return local;
  const at = local?.value.at ?? instantOfLocal(body.at ?? '', session.workspaceZone) ?? now;
  return ok({
    ...plainQuestion(body, session),
    ...wordingsOf(body),
    at: Math.max(now, at),
    timing: { ...timing.value, local: local?.value.local ?? null },
  });
}

/** Where there are several: all, and the one that is looked at in its place. */
function wordingsOf(body: Record<string, string | null>) {
  const others = draftWordings(body.others);
  if (others.length === 0) return {};
  const letter = body.channel === 'email';
  const wordings = [{ subject: body.subject ?? '', body: body.body ?? '' }, ...others].map((one) => ({
    ...{ subject: letter ? cutText(one.subject, 300) : null, body: cutText(one.body, 20_000) },
  }));
  const shown = wordings[Number(body.shown)] ?? wordings[0]!;
  return { wordings, body: shown.body, ...(shown.subject === null ? {} : { subject: shown.subject }) };
}

/** What goes to who cannot be reached, as a screen sent it. */
function readInstead(words: string | null | undefined): Instead | null {
  const read = parseJson(words ?? '');
  if (!read.ok || read.value === null || typeof read.value !== 'object') return null;
  const { channel, subject, body } = read.value as Record<string, unknown>;
  const text = (value: unknown, most: number) => (typeof value === 'string' ? cutText(value, most) : '');
  return {
    ...(channel === 'sms' ? { channel } : {}),
    ...{ subject: text(subject, 300), body: text(body, 20_000) },
  };
}

/** What is told before or after it, as a screen sent it. */
function readCompanion(words: string | null | undefined): Companion | null {
  const written = readInstead(words);
  const read = parseJson(words ?? '');
  if (!written || !read.ok) return null;
  const { when, minutes } = read.value as Record<string, unknown>;
  return {
    ...{ channel: 'email', ...written, when: when === 'before' ? 'before' : 'after' },
    minutes: Math.min(Math.max(0, Math.round(Number(minutes)) || 0), MOST_MINUTES.after),
  };
}

const plainQuestion = (body: Record<string, string | null>, session: SignedIn) => ({
  program: body.program ?? '',
  channel: CHANNELS.find((channel) => channel === body.channel) ?? 'sms',
  subject: cutText(body.subject ?? '', 300),
  body: cutText(body.body ?? '', 20_000),
  senderName: session.name.split(' ')[0] ?? null,
  personId: body.person ?? null,
  links: {
    ...{ short: body.short !== 'no', utm: body.utm === 'yes' },
    plain: (body.plain ?? '').split('\n').filter(Boolean).slice(0, 20),
  },
  broadcastId: body.id ?? null,
  media: (body.files ?? '').split(',').filter(Boolean).slice(0, MOST_FILES),
  instead: readInstead(body.instead),
  companion: readCompanion(body.companion),
  template: body.template || null,
  audience: body.audience || null,
});
