import { EMPTY_BRAND, EMPTY_PROGRAM, type BrandFile, type ProgramWritten } from '@/core/registration/file';
import type { PublicPage } from '@/core/registration/sentences';
import { knowsCountry } from '@/core/phone/number';
import { cleanText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import type { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { Program } from '@/db/programs/entities';
import { BrandRow, ProgramRow } from '@/db/registration/entities';
import { lockWorkspace } from '@/services/access/change-workspace';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';
import { invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import type { BrandInput, ProgramFileInput } from './inputs';

/** The brand’s file as it is kept; as it begins where nothing was told yet. */
export async function readBrand(
  scope: Scope,
  workspace: Workspace,
): Promise<{ file: BrandFile; stamp: number }> {
  const row = await scope.em.findOne(BrandRow, { workspaceId: scope.workspaceId });
  if (row) return { file: { ...EMPTY_BRAND, ...row.file }, stamp: row.stamp };
  const { country, termsUrl, privacyUrl, contact } = workspace;
  const theirs = termsUrl !== null || privacyUrl !== null;
  return {
    file: {
      ...{
        ...EMPTY_BRAND,
        country,
        ourPages: !theirs,
        termsUrl: termsUrl ?? '',
        privacyUrl: privacyUrl ?? '',
      },
      ...(contact.includes('@') ? { contactEmail: contact } : { contactPhone: contact }),
    },
    stamp: 0,
  };
}

const FIELDS = {
  ...{ legal_name: 'legalName', tax_number: 'taxNumber', about: 'about', website: 'website' },
  ...{ street: 'street', city: 'city', state: 'state', postal_code: 'postalCode', country: 'country' },
  ...{ contact_name: 'contactName', contact_email: 'contactEmail', contact_phone: 'contactPhone' },
  ...{
    privacy_url: 'privacyUrl',
    privacy_text: 'privacyText',
    terms_url: 'termsUrl',
    terms_text: 'termsText',
  },
} as const satisfies Record<string, keyof BrandFile>;

/** Where our two pages about a business are shown. */
export const ownAddresses = ({ slug }: Workspace): Pick<BrandFile, 'privacyUrl' | 'termsUrl'> => {
  const at = (page: PublicPage) => `${publicUrl()}/about/${slug}/${page}`;
  return { privacyUrl: at('privacy'), termsUrl: at('terms') };
};

/** Keeps what is told of the business, as far as it is given. What is missing is no reason not to keep it. */
export async function keepBrand(
  ctx: Context,
  scope: Scope,
  input: BrandInput,
  { name: actor }: Actor,
): Promise<Result<{ file: BrandFile; stamp: number }, Refusal>> {
  const workspace = await lockWorkspace(scope);
  const before = await readBrand(scope, workspace);
  if (input.stamp !== before.stamp) return overtaken();
  const file: BrandFile = { ...before.file };
  for (const [given, field] of Object.entries(FIELDS) as [
    keyof typeof FIELDS,
    (typeof FIELDS)[keyof typeof FIELDS],
  ][]) {
    const value = input[given];
    if (value !== undefined) file[field] = cleanText(value).trim();
  }
  if (input.form !== undefined) file.form = input.form;
  if (input.our_pages !== undefined) file.ourPages = input.our_pages;
  file.country = file.country.toUpperCase();
  if (!knowsCountry(file.country))
    return invalid('country', 'country: must be a country by its two letters, such as US.');
  for (const field of ['website', 'privacyUrl', 'termsUrl'] as const)
    if (file[field] !== '' && !/^https?:\/\/\S+$/.test(file[field]))
      return invalid(nameOf(field), `${nameOf(field)}: must be an address, such as https://www.example.org.`);
  const stamp = before.stamp + 1;
  const row = { workspaceId: scope.workspaceId, file, stamp, changedAt: new Date(ctx.now()) };
  await scope.em.upsert(BrandRow, row);
  linkPages(workspace, file);
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'registration.brand-kept', scope.workspaceId, {});
  return ok({ file, stamp });
}

const nameOf = (field: keyof BrandFile): string =>
  Object.entries(FIELDS).find(([, ours]) => ours === field)![0];

/** Forms, posters and checks link the pages the reviewer reads. */
function linkPages(workspace: Workspace, file: BrandFile): void {
  const { termsUrl, privacyUrl } = file.ourPages ? ownAddresses(workspace) : file;
  const [terms, privacy] = [termsUrl || null, privacyUrl || null];
  if (terms === workspace.termsUrl && privacy === workspace.privacyUrl) return;
  Object.assign(workspace, { termsUrl: terms, privacyUrl: privacy, stamp: workspace.stamp + 1 });
}

/** Keeps what is told of a program. */
export async function keepProgramFile(
  ctx: Context,
  scope: Scope,
  programId: string,
  input: ProgramFileInput,
  { name: actor }: Actor,
): Promise<Result<{ written: ProgramWritten; stamp: number }, Refusal>> {
  await scope.rows(`select 1 from program where workspace_id = :workspace and id = :programId for update`, {
    programId,
  });
  const program = await scope.em.findOne(Program, { id: programId });
  if (!program) return notFound('program');
  const row = await scope.em.findOne(ProgramRow, { programId }, { refresh: true });
  if (input.stamp !== (row?.stamp ?? 0)) return overtaken();
  const { stamp: _, per_month: perMonth, samples, content, about, ...flags } = input;
  const given = Object.fromEntries(Object.entries(flags).filter(([, value]) => value !== undefined));
  const written: ProgramWritten = {
    ...{ ...EMPTY_PROGRAM, ...row?.written, ...given },
    ...(about === undefined ? {} : { about: cleanText(about).trim() }),
    ...(content === undefined ? {} : { content: [...new Set(content)] }),
    ...(samples === undefined
      ? {}
      : { samples: samples.map((one) => cleanText(one).trim()).filter(Boolean) }),
    ...(perMonth === undefined ? {} : { perMonth }),
  };
  const stamp = input.stamp + 1;
  await scope.em.upsert(ProgramRow, {
    ...{ programId, workspaceId: scope.workspaceId, written, stamp, changedAt: new Date(ctx.now()) },
  });
  await writeAudit(ctx, scope, actor, 'registration.program-kept', programId, {});
  return ok({ written, stamp });
}
