import { isDeepStrictEqual } from 'node:util';
import type { RegistrationFinding } from '@/core/registration/check';
import type { ProgramFile, ProgramWritten, RegistrationAbout } from '@/core/registration/file';
import type { Forecast } from '@/core/registration/forecast';
import { brokenBy } from '@/core/registration/promised';
import { ownPage, type PageSection, type PublicPage } from '@/core/registration/sentences';
import type { Millis } from '@/core/shared/instant';
import { frequencyPhrase } from '@/core/text/wording';
import { Workspace } from '@/db/access/entities';
import { forecastsOf } from '@/db/registration/forecasts';
import { lastTold, toldOfPrograms } from '@/db/registration/told';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Program } from '@/db/programs/entities';
import {
  ProgramRow,
  Registration,
  RegistrationQuestion,
  RegistrationStep,
  type RegistrarAccount,
  type ToldFile,
} from '@/db/registration/entities';
import type { Context } from '@/services/kit/context';
import { benchRegistrar } from '@/services/kit/settings';
import { standingRegistrar } from './accounts';
import { fileOf, type Subject } from './applications';
import { ownAddresses, readBrand } from './files';
import { gatherProgram, writtenOf } from './gather';

/** One line of the overview: how the registration of something stands. */
export interface RegistrationLine {
  about: RegistrationAbout;
  subject: string;
  name: string;
  row: Registration | null;
  /** As it stands now. */
  file: ToldFile;
  /** What it lacks; what must be mended stands in the way of handing it in. */
  found: RegistrationFinding[];
  /** Until when it is likely to be decided; null: nothing is being decided. */
  forecast: Forecast | null;
  questions: RegistrationQuestion[];
  /** What stands there now and is not what the reviewer has, in sentences. */
  broken: string[];
  /** Its program is archived: it stands there for nothing. */
  archived: boolean;
  /** Registered by hand, as somebody typed it; null: it goes through the registrar. */
  byHand: string | null;
}

/** Everything that is or could be registered, with what is asked of us. */
export async function readRegistrations(scope: Scope, now: Millis) {
  const programs = await scope.em.find(Program, {}, { orderBy: { name: 'asc' } });
  const standing = await scope.em.find(Registration, { about: 'program', state: { $ne: 'draft' } });
  const handedIn = new Set(standing.map(({ subject }) => subject));
  const numbers = await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { number: 'asc' } });
  return readLines(scope, now, [
    { about: 'brand', id: '' },
    // One that is archived here and stands there is for somebody to take back.
    ...programs
      .filter(({ id, archivedAt }) => archivedAt === null || handedIn.has(id))
      .map(({ id }) => ({ about: 'program' as const, id })),
    ...numbers.map(({ id }) => ({ about: 'number' as const, id })),
  ]);
}

async function readLines(
  scope: Scope,
  now: Millis,
  subjects: readonly Subject[],
): Promise<{ account: RegistrarAccount | null; lines: RegistrationLine[] }> {
  const account = await standingRegistrar(scope);
  const rows = await scope.em.find(Registration, { subject: { $in: subjects.map(({ id }) => id) } });
  const questions = await scope.em.find(
    RegistrationQuestion,
    { registrationId: { $in: rows.map(({ id }) => id) } },
    { orderBy: { askedAt: 'asc' } },
  );
  const forecasts = await forecastsOf(scope, rows, now);
  const lines: RegistrationLine[] = [];
  for (const subject of subjects) {
    const file = await fileOf(scope, subject, now);
    if (!file) continue;
    const row = rows.find((one) => one.about === subject.about && one.subject === subject.id) ?? null;
    const told = row && lastTold(row);
    const drafted = row === null || row.state === 'draft';
    lines.push({
      ...{ about: subject.about, subject: subject.id, name: file.name, row },
      ...{ file: file.file, found: file.found },
      forecast: (row && forecasts.get(row.id)) ?? null,
      questions: questions.filter(({ registrationId }) => registrationId === row?.id),
      archived: file.archived === true,
      broken: drafted || told === null ? [] : brokenOf(subject.about, told, file.file),
      byHand: drafted && subject.about === 'number' ? await typedByHand(scope, subject.id) : null,
    });
  }
  return { account, lines };
}

/** Of a program only what breaks what was told: the last texts and how many there were are others every day. */
const brokenOf = (about: RegistrationAbout, told: ToldFile, now: ToldFile): string[] =>
  about === 'program'
    ? brokenBy(told as ProgramFile, now as ProgramFile).map(({ message }) => message)
    : isDeepStrictEqual(told, now)
      ? []
      : ['The file was changed since it was handed in.'];

const typedByHand = async (scope: Scope, id: string): Promise<string> =>
  (await scope.em.findOneOrFail(SenderNumberRow, { id })).registration;

const MOST_STEPS = 100;

async function lineOf(scope: Scope, subject: Subject, now: Millis) {
  const { account, lines } = await readLines(scope, now, [subject]);
  const [line] = lines;
  if (!line) return null;
  const steps = line.row
    ? await scope.em.find(
        RegistrationStep,
        { registrationId: line.row.id },
        { orderBy: { id: 'desc' }, limit: MOST_STEPS },
      )
    : [];
  return { account, line, steps };
}

/** The brand’s file, and how its registration stands. */
export async function readBrandScreen(scope: Scope, now: Millis) {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const { file, stamp } = await readBrand(scope, workspace);
  return {
    ...(await lineOf(scope, { about: 'brand', id: '' }, now))!,
    ...{ file, stamp, business: workspace.business, contact: workspace.contact },
    addresses: { privacy: ownAddresses(workspace).privacyUrl, terms: ownAddresses(workspace).termsUrl },
  };
}

/** A program’s file, and how its registration stands; null: there is no such program. */
export async function readProgramFile(
  scope: Scope,
  id: string,
  now: Millis,
): Promise<
  | (NonNullable<Awaited<ReturnType<typeof lineOf>>> & {
      file: ProgramFile;
      written: ProgramWritten;
      stamp: number;
    })
  | null
> {
  const read = await lineOf(scope, { about: 'program', id }, now);
  if (!read) return null;
  return {
    ...read,
    written: await writtenOf(scope, id),
    stamp: (await scope.em.findOne(ProgramRow, { programId: id }))?.stamp ?? 0,
    file: read.line.file as ProgramFile,
  };
}

/** What the reviewer was told of a program, and how it stands now; null: it was not handed in, or is not any more. */
export async function readToldOfProgram(
  scope: Scope,
  id: string,
  now: Millis,
): Promise<{ told: ProgramFile; now: ProgramFile; state: Registration['state'] } | null> {
  const [row] = await toldOfPrograms(scope, id);
  const program = row && (await scope.em.findOne(Program, { id }));
  if (!row || !program) return null;
  const { told, state } = row;
  return { told, now: await gatherProgram(scope, program, await writtenOf(scope, id), now), state };
}

/** What reviewers were told of programs, and still count on. */
export const readToldOfPrograms = (scope: Scope): Promise<{ id: string; told: ProgramFile }[]> =>
  toldOfPrograms(scope);

/** What reviewers ask of us, the longest waiting first. */
export const readOpenQuestions = async (scope: Scope) => {
  const open = await scope.em.find(RegistrationQuestion, { answer: null }, { orderBy: { askedAt: 'asc' } });
  const rows = await scope.em.find(Registration, {
    id: { $in: open.map(({ registrationId }) => registrationId) },
  });
  return open.map((question) => ({
    question,
    row: rows.find(({ id }) => id === question.registrationId)!,
  }));
};

/** The bench’s registrar, ready to connect; null: there is none. */
export const registrarOffer = (): { url: string; account: string; token: string } | null => {
  const url = benchRegistrar();
  return url === null ? null : { url, account: 'juniper', token: 'bench' };
};

/** A page of ours for anybody, by the workspace’s name in addresses; null: there is none. */
export async function readPublicPage(
  ctx: Context,
  slug: string,
  page: PublicPage,
): Promise<{ business: string; sections: PageSection[] } | null> {
  const found = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.rows<{ id: string }>(
      `select w.id from workspace w join registration_brand b on b.workspace_id = w.id where w.slug = :slug and (b.file ->> 'ourPages')::boolean`,
      { slug },
    ),
  );
  if (!found[0]) return null;
  return inWorkspace(ctx.orm, found[0].id, async (scope) => {
    const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
    const { file } = await readBrand(scope, workspace);
    const programs = await scope.em.find(Program, { archivedAt: null }, { orderBy: { name: 'asc' } });
    const shown = [];
    for (const { id, name, promiseCount, promisePeriod } of programs)
      shown.push({
        name,
        often: frequencyPhrase(promiseCount, promisePeriod),
        about: (await writtenOf(scope, id)).about,
      });
    const { business, contact } = workspace;
    return { business, sections: ownPage(page, file, { business, contact, programs: shown }) };
  });
}
