import { ok, type Result } from '@/core/shared/result';
import { checkCode, redeemVoucher, undoUse, vouchersOfEnding } from '@/services/offers/counter';
import { getContext } from '@/services/runtime';
import { invalid, type Refusal } from '@/services/kit/validation';
import { actorOf } from '../../session';
import { answerScreen } from '../read';

const LARGEST = 2_000;
const LONGEST = 300;

/** What a till asks. A press that is sent again counts once. */
export async function POST(request: Request): Promise<Response> {
  const ctx = await getContext();
  return answerScreen(
    request,
    async (scope, session, _, body): Promise<Result<object, Refusal>> => {
      const actor = actorOf(session);
      const said = (name: string): string => (body[name] ?? '').slice(0, LONGEST);
      switch (body.do) {
        case 'check':
          return ok(await checkCode(ctx, scope, said('code'), actor));
        case 'use':
          return said('press') === ''
            ? invalid('press', 'press: a press needs an id of its own.')
            : ok(await redeemVoucher(ctx, scope, { code: said('code'), press: said('press') }, actor));
        case 'undo':
          return undoUse(ctx, scope, said('press'), actor);
        case 'find': {
          const found = await vouchersOfEnding(ctx, scope, said('ending'), actor);
          return found.ok ? ok({ items: found.value }) : found;
        }
        default:
          return invalid('do', 'do: must be check, use, undo or find.');
      }
    },
    LARGEST,
    'redeem',
  );
}
