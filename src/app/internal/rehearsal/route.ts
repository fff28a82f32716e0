import { parseJson } from '@/core/shared/json';
import { RehearsalInput } from '@/services/sequences/inputs';
import { rehearseSequence } from '@/services/sequences/rehearsal';
import { getContext } from '@/services/runtime';
import { invalid, readInput } from '@/services/kit/validation';
import { answerScreen } from '../read';

/** A document of four hundred lines, each with a long text. */
const LARGEST = 1024 * 1024;

export const POST = (request: Request): Promise<Response> =>
  answerScreen(
    request,
    async (scope, _session, _now, { document, person, from, prompted, events }) => {
      const written = parseJson(document ?? '');
      const pretended = parseJson(events ?? '[]');
      if (!written.ok || !pretended.ok) return invalid('document', 'document: is not valid JSON.');
      const input = await readInput(RehearsalInput, {
        ...{ document: written.value, events: pretended.value, prompted: prompted === 'true' },
        ...(person ? { person } : {}),
        ...(from ? { from } : {}),
      });
      return input.ok ? rehearseSequence(await getContext(), scope, input.value) : input;
    },
    LARGEST,
  );
