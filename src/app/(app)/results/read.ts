import type { Scope } from '@/services/kit/scope';
import { readAsked, type Asked } from '@/services/results/asked';
import { SpanInput } from '@/services/results/inputs';
import { programsToChoose } from '@/services/results/screen';
import { readInput } from '@/services/kit/validation';
import type { Look } from '@/ui/results/look';
import { sentenceOf } from '@/core/shared/sentence';
import { readScreen } from '../../session';

export type Params = Promise<Record<string, string | undefined>>;

/** Reads a page of results for what its address asks; where that cannot be, the usual days, and why not. */
export async function readResultsPage<T>(look: Look, read: (scope: Scope, asked: Asked) => Promise<T>) {
  const { days, ...rest } = look;
  const input = await readInput(SpanInput, { ...rest, ...(days ? { days: Number(days) } : {}) });
  const { data, session } = await readScreen(async (scope, _, now) => {
    const asked = input.ok ? await readAsked(scope, input.value, now) : input;
    const usual = asked.ok ? asked : await readAsked(scope, {}, now);
    if (!usual.ok) throw new Error('The usual days cannot be refused.');
    return {
      read: await read(scope, usual.value),
      span: usual.value.span,
      programs: await programsToChoose(scope),
      problem: asked.ok ? null : sentenceOf(asked.reason.problems[0]!.message),
    };
  });
  const { span, programs, problem } = data;
  return { data: data.read, session, frame: { span, programs, problem } };
}
