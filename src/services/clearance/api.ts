import { post, viewed, type Endpoint } from '@/services/kit/api';
import { checkClearance, clearanceView } from './check-clearance';
import { ClearanceCheckInput } from './inputs';

export const CLEARANCE_API: readonly Endpoint[] = [
  post(
    '/clearance/check',
    'May a text go to somebody at an instant? Every reason, not the first',
    ClearanceCheckInput,
    200,
    async ({ scope, input }) => viewed(await checkClearance(scope, input), clearanceView),
  ),
];
