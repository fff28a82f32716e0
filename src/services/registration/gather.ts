import { addDays, dayOf } from '@/core/audience/days';
import { displayNumber } from '@/core/phone/number';
import { readCallToAction, wordedCallToAction } from '@/core/program/call-to-action';
import { EMPTY_PROGRAM, type ProgramFile, type ProgramWritten, type WayIn } from '@/core/registration/file';
import { LEFT_STATES } from '@/core/results/sums';
import type { Millis } from '@/core/shared/instant';
import { parseTemplate } from '@/core/text/template';
import { confirmationText, doubleOptInText, helpText, optOutText } from '@/core/text/wording';
import { Workspace } from '@/db/access/entities';
import { Form, FormVersion } from '@/db/forms/entities';
import type { Scope } from '@/db/kit/scope';
import { Poster } from '@/db/posters/entities';
import type { Program } from '@/db/programs/entities';
import { KeywordRow } from '@/db/programs/entities';
import { ProgramRow } from '@/db/registration/entities';
import { daySums } from '@/db/results/sums';
import { Broadcast } from '@/db/sends/entities';
import { drawPoster } from '@/services/posters/draw';
import { callToActionOf } from '@/services/programs/keyword-screen';
import { wordingOf } from '@/services/programs/wording';

/** What was written about a program; as it begins where nothing was. */
export const writtenOf = async (scope: Scope, programId: string): Promise<ProgramWritten> => ({
  ...EMPTY_PROGRAM,
  ...(await scope.em.findOne(ProgramRow, { programId }))?.written,
});

/** A program’s file: what is written about it, and everything a reviewer asks that the program says already. */
export async function gatherProgram(
  scope: Scope,
  program: Program,
  written: ProgramWritten,
  now: Millis,
): Promise<ProgramFile> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const wording = wordingOf(workspace, program);
  const { samples, perMonth, ...rest } = written;
  return {
    ...rest,
    ...{
      business: workspace.business,
      name: program.name,
      purpose: program.purpose,
      often: wording.frequency,
    },
    perMonth: perMonth ?? (await lastMonth(scope, program.id, workspace.zone, now)),
    samples: samples.length > 0 ? samples : await sentSamples(scope, program, workspace),
    ways: [
      ...(await keywords(scope, program)),
      ...(await forms(scope, program)),
      ...(await posters(scope, program)),
    ],
    confirmation: confirmationText(wording, program.welcome),
    question: program.doubleOptIn ? doubleOptInText(wording) : '',
    help: helpText(wording),
    stop: optOutText(workspace.business),
  };
}

const DAYS = 30;

/** Texts of it that left in thirty days. */
async function lastMonth(scope: Scope, programId: string, zone: string, now: Millis): Promise<number> {
  const today = dayOf(now, zone);
  const span = { from: addDays(today, -DAYS + 1), until: addDays(today, 1) };
  const sums = await daySums(scope, span, { program: programId, channel: 'sms' });
  return sums
    .filter(({ what }) => (LEFT_STATES as readonly string[]).includes(what))
    .reduce((sum, { n }) => sum + n, 0);
}

const SHOWN = 3;
const LOOKED_AT = 12;

/** The last texts that were sent to many, as they read where nothing is known of a person: nobody’s name goes to a reviewer. */
async function sentSamples(scope: Scope, program: Program, { business }: Workspace): Promise<string[]> {
  const sent = await scope.em.find(
    Broadcast,
    { programId: program.id, channel: 'sms', state: { $in: ['finished', 'sending', 'paused'] } },
    { orderBy: { sendAt: 'desc' }, limit: LOOKED_AT },
  );
  const known = { 'program.name': program.name, 'business.name': business };
  const read = sent.flatMap(({ body }) => {
    const template = parseTemplate(body);
    if (!template.ok) return [];
    const { text, empty } = template.value.render(known);
    return empty.length === 0 ? [text] : [];
  });
  return [...new Set(read)].slice(0, SHOWN);
}

async function keywords(scope: Scope, program: Program): Promise<WayIn[]> {
  const rows = await scope.em.find(KeywordRow, { programId: program.id }, { orderBy: { word: 'asc' } });
  const ways: WayIn[] = [];
  for (const { id, word } of rows) {
    const call = await callToActionOf(scope, id);
    if (!call) continue;
    const words = wordedCallToAction(call, displayNumber(call.numbers[0] ?? ''), null);
    ways.push({
      ...{ kind: 'keyword', name: word.toUpperCase(), words, place: `/programs/keywords/${id}` },
      lacks: readCallToAction(words, call),
    });
  }
  return ways;
}

async function forms(scope: Scope, program: Program): Promise<WayIn[]> {
  const shown = await scope.em.find(
    Form,
    { programId: program.id, version: { $ne: null }, closedAt: null },
    { orderBy: { createdAt: 'asc' } },
  );
  const ways: WayIn[] = [];
  for (const { id, name, version } of shown) {
    const { wording } = await scope.em.findOneOrFail(FormVersion, { formId: id, version: version! });
    ways.push({ kind: 'form', name, words: wording, place: `/programs/forms/${id}`, lacks: [] });
  }
  return ways;
}

async function posters(scope: Scope, program: Program): Promise<WayIn[]> {
  const of = {
    keywords: (await scope.em.find(KeywordRow, { programId: program.id })).map(({ id }) => id),
    forms: (await scope.em.find(Form, { programId: program.id })).map(({ id }) => id),
  };
  const rows = await scope.em.find(
    Poster,
    { $or: [{ keywordId: { $in: of.keywords } }, { formId: { $in: of.forms } }] },
    { orderBy: { createdAt: 'asc' } },
  );
  const ways: WayIn[] = [];
  for (const poster of rows) {
    const ready = await drawPoster(scope, poster, poster.document);
    if (!ready) continue;
    ways.push({
      ...{ kind: 'poster', name: poster.document.headline || 'A poster', words: ready.drawn.says },
      ...{ place: `/programs/posters/${poster.id}`, lacks: ready.findings },
    });
  }
  return ways;
}
