import { parseInstant } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { parseTemplate } from '@/core/text/template';
import { TextBodyInput } from '@/services/kit/inputs';
import { post, type Endpoint } from '@/services/kit/api';
import { invalid } from '@/services/kit/validation';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import { findInWording } from './check-wording';
import { CheckWordingInput } from './inputs';
import { measureText } from './measure-text';

export const TEMPLATES_API: readonly Endpoint[] = [
  post('/texts/measure', 'Alphabet, units and parts of a text', TextBodyInput, 200, async ({ input }) => {
    const { unitsPerPart, unitsLeft, ...rest } = measureText(input.body);
    return ok({ ...rest, units_per_part: unitsPerPart, units_left: unitsLeft });
  }),
  post(
    '/texts/check',
    'What there is to say about a wording before it goes',
    CheckWordingInput,
    200,
    async ({ ctx, scope, input }) => {
      const program = input.program === undefined ? null : await findProgram(scope, input.program);
      if (input.program !== undefined && !program) return invalid('program', NO_PROGRAM);
      const template = parseTemplate(input.body);
      if (!template.ok) return invalid('body', `body: ${template.reason[0]!.message}`);
      const items = await findInWording(scope, {
        ...{ source: input.body, program, channel: input.channel ?? 'sms', answers: input.answers ?? false },
        at: input.at === undefined ? ctx.now() : parseInstant(input.at)!,
      });
      return ok({ items });
    },
  ),
];
