import { DAY, toIso } from '@/core/shared/instant';
import { parseJson } from '@/core/shared/json';
import { RehearsalInput } from '@/services/sequences/inputs';
import { rehearseSequence } from '@/services/sequences/rehearsal';
import { getContext } from '@/services/runtime';
import { invalid, readInput } from '@/services/kit/validation';
import { instantOfLocal } from '../../draft-question';
import { answerScreen } from '../read';

/** A document of four hundred lines, each with a long text. */
const LARGEST = 1024 * 1024;

/** What is pretended comes as days after the beginning. */
function eventOf(event: unknown, start: number): object {
  const { day, kind } = (event ?? {}) as { day?: unknown; kind?: unknown };
  return { kind, at: isDay(day) ? toIso(start + day * DAY) : null };
}

const isDay = (day: unknown): day is number =>
  Number.isInteger(day) && (day as number) >= 0 && (day as number) <= 3_660;

export const POST = (request: Request): Promise<Response> =>
  answerScreen(
    request,
    async (scope, { workspaceZone }, now, { document, person, from, prompted, events }) => {
      const written = parseJson(document ?? '');
      const pretended = parseJson(events ?? '[]');
      if (!written.ok || !pretended.ok) return invalid('document', 'document: is not valid JSON.');
      const start = from ? instantOfLocal(from, workspaceZone) : now;
      if (start === null) return invalid('from', 'from: must be a day and an hour.');
      const input = await readInput(RehearsalInput, {
        ...{ document: written.value, prompted: prompted === 'true', from: toIso(start) },
        events: (Array.isArray(pretended.value) ? pretended.value : []).map((event) => eventOf(event, start)),
        ...(person ? { person } : {}),
      });
      return input.ok ? rehearseSequence(await getContext(), scope, input.value) : input;
    },
    LARGEST,
  );
