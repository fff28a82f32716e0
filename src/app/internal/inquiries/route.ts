import { parseMapping } from '@/core/inquiry/parse';
import { parseJson } from '@/core/shared/json';
import { ok } from '@/core/shared/result';
import { ownFields } from '@/services/audience/own-fields';
import { tryMapping } from '@/services/inquiries/screen';
import { invalid } from '@/services/kit/validation';
import { answerScreen } from '../read';

/** What would be read of what came through a source, by a mapping that is being made. */
export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, _session, _now, body) => {
    const json = parseJson(body.mapping ?? '');
    const own = (await ownFields(scope)).map(({ key }) => key);
    const mapping = json.ok ? parseMapping(json.value, own) : json;
    if (!mapping.ok) return invalid('mapping', `mapping: ${String(mapping.reason)}`);
    return ok({ tried: await tryMapping(scope, body.source ?? '', mapping.value) });
  });
