import { ok } from '@/core/shared/result';
import { get, post, viewed, type Endpoint } from '@/services/kit/api';
import { readAudience, readCondition, readSteps } from './audience';
import { CutInput, SegmentInput } from './inputs';
import { createSegment, visibleSegments } from './segments';
import { segmentView } from './views';

export const AUDIENCE_API: readonly Endpoint[] = [
  post(
    '/people/count',
    'How many people meet a condition, in words, with the count after each branch',
    CutInput,
    200,
    async ({ ctx, scope, input }) => {
      const condition = readCondition(input.condition);
      if (!condition.ok) return condition;
      const audience = await readAudience(scope, condition.value, input.search ?? '', ctx.now());
      if (!audience.ok) return audience;
      const steps = await readSteps(scope, condition.value, input.search ?? '', ctx.now());
      return steps.ok ? ok({ ...audience.value, ...steps.value }) : steps;
    },
  ),
  get('/segments', 'Segments shared with all', async ({ scope }) =>
    ok({ items: (await visibleSegments(scope, null)).map(segmentView) }),
  ),
  post(
    '/segments',
    'Keep a condition as a segment',
    SegmentInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await createSegment(ctx, scope, input, actor), segmentView),
  ),
];
