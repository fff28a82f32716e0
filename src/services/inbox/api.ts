import { ok } from '@/core/shared/result';
import { post, type Endpoint } from '@/services/kit/api';
import { TextBodyInput } from '@/services/kit/inputs';
import { interpretText } from './interpret-text';

export const INBOX_API: readonly Endpoint[] = [
  post('/texts/interpret', 'What a reply means', TextBodyInput, 200, async ({ scope, input }) => {
    const { nearKeyword, ...rest } = await interpretText(scope, input.body);
    return ok({ ...rest, near_keyword: nearKeyword });
  }),
];
