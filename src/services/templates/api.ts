import { ok } from '@/core/shared/result';
import { TextBodyInput } from '@/services/kit/inputs';
import { post, type Endpoint } from '@/services/kit/api';
import { measureText } from './measure-text';

export const TEMPLATES_API: readonly Endpoint[] = [
  post('/texts/measure', 'Alphabet, units and parts of a text', TextBodyInput, 200, async ({ input }) => {
    const { unitsPerPart, unitsLeft, ...rest } = measureText(input.body);
    return ok({ ...rest, units_per_part: unitsPerPart, units_left: unitsLeft });
  }),
];
