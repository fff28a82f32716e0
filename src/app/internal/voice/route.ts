import { isRecord, parseJson } from '@/core/shared/json';
import { ok, type Result } from '@/core/shared/result';
import { readInput, type Refusal } from '@/services/kit/validation';
import { NewRecordingInput, NewVoiceMessageInput } from '@/services/voicemail/inputs';
import { addRecording, createVoiceMessage, type KeptMessage } from '@/services/voicemail/messages';
import { readLimited } from '../../read-limited';
import { actorOf, change } from '../../session';

/** A minute at 16 kHz, its words, and what stands around them. */
const LARGEST = 3_000_000;

const problem = (status: number, field: string, message: string): Response =>
  Response.json({ problems: [{ field, message }] }, { status });

/** Keeps a voice message, or another version of one: a form with its words, its sound, and what was found in it. */
export async function POST(request: Request): Promise<Response> {
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return problem(403, 'wave', 'Not from another site.');
  const bytes = await readLimited(request, LARGEST);
  if (bytes === null) return problem(413, 'wave', 'It is larger than a minute can be. Cut it.');
  const form = await new Response(new Uint8Array(bytes), {
    headers: { 'content-type': request.headers.get('content-type') ?? '' },
  })
    .formData()
    .catch(() => null);
  if (!form) return problem(400, 'wave', 'It did not come whole. Try again.');
  const text = (name: string): string => {
    const value = form.get(name);
    return typeof value === 'string' ? value : '';
  };
  const sound = form.get('wave');
  const wave = sound instanceof Blob ? Buffer.from(await sound.arrayBuffer()) : null;
  const found = parseJson(text('found'));
  const recorded = { wave, ...(found.ok && isRecord(found.value) ? { found: found.value } : {}) };
  const message = text('message');
  const kept = await change(
    'send',
    async (scope, session, ctx) => {
      // What the sound is, is told by its bytes.
      const fields = { words: text('words'), ...(wave ? { wave: '…' } : {}) };
      const actor = actorOf(session);
      if (message !== '') {
        const input = await readInput(NewRecordingInput, fields);
        if (!input.ok) return input;
        return named(
          await addRecording(ctx, scope, message, { ...recorded, words: input.value.words }, actor),
        );
      }
      const input = await readInput(NewVoiceMessageInput, { ...fields, name: text('name') });
      if (!input.ok) return input;
      const { name, words } = input.value;
      return named(await createVoiceMessage(ctx, scope, { ...recorded, name, words }, actor));
    },
    text('press') || null,
  );
  return kept.ok
    ? Response.json({ id: kept.value.id }, { status: 201 })
    : Response.json(
        { problems: kept.reason.problems },
        { status: kept.reason.code === 'forbidden' ? 403 : 422 },
      );
}

const named = (kept: Result<KeptMessage, Refusal>): Result<{ id: string }, Refusal> =>
  kept.ok ? ok({ id: kept.value.message.id }) : kept;
