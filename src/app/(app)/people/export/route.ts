import { may } from '@/core/access/roles';
import { exportPeople, type ExportFormat, type ExportMeant } from '@/services/people/export-people';
import { getContext } from '@/services/runtime';
import { currentSession } from '../../../session';

const FORMATS: readonly string[] = ['csv', 'xlsx', 'vcard'];

/** A plain form asks, the browser keeps the file. */
export async function POST(request: Request): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'read')) return new Response('Sign in again.', { status: 401 });
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return new Response('Not from another site.', { status: 403 });
  const form = await request.formData();
  const format = String(form.get('format'));
  const meant = readMeant(String(form.get('meant') ?? ''));
  if (!FORMATS.includes(format) || !meant)
    return new Response('Choose people and a format.', { status: 422 });
  const ctx = await getContext();
  const file = await exportPeople(ctx.orm, session.workspaceId, format as ExportFormat, meant, ctx.now());
  if (!file.ok) return new Response(file.reason.problems[0]?.message, { status: 422 });
  return new Response(file.value.body as BodyInit, {
    headers: {
      'content-type': file.value.type,
      'content-disposition': `attachment; filename="${file.value.name}"`,
    },
  });
}

function readMeant(json: string): ExportMeant | null {
  try {
    const data = JSON.parse(json) as Record<string, unknown>;
    if (data.kind === 'ids' && Array.isArray(data.ids) && data.ids.every((id) => typeof id === 'string'))
      return { kind: 'ids', ids: data.ids as string[] };
    if (data.kind === 'all' && typeof data.condition === 'string' && typeof data.search === 'string')
      return { kind: 'all', condition: data.condition, search: data.search.replaceAll('\0', '') };
  } catch {
    // Answered below like any other wrong value.
  }
  return null;
}
