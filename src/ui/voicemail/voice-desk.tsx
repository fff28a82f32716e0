'use client';
import { useId, useRef, useState, useTransition } from 'react';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import { soundFindings } from '@/core/voicemail/sound';
import { checkVoiceWords, type VoiceWordsContext } from '@/core/voicemail/words';
import { Problem } from '@/ui/kit/problem';
import { usePress } from '@/ui/kit/press';
import { Microphone } from './microphone';
import { KeptPlayer, Player } from './player';
import { useSound, type ReadySound } from './use-sound';
import { VoiceFindings, type ShownFinding } from './voice-findings';
import { Waveform } from './waveform';

/** What is known of the version before. */
export interface VersionBefore {
  messageId: string;
  recordingId: string;
  words: string;
  seconds: number;
}

interface Props {
  /** Null: a new voice message. */
  before: VersionBefore | null;
  context: Omit<VoiceWordsContext, 'seconds'>;
}

const FORMATS =
  'audio/mpeg,audio/wav,audio/x-wav,audio/mp4,audio/x-m4a,audio/ogg,audio/flac,.mp3,.wav,.m4a,.ogg,.flac';

/** Records a voice message or takes a file, with its words beside it, and says what there is to mend while it is made. */
export function VoiceDesk({ before, context }: Props) {
  const id = useId();
  const router = useRouter();
  const sound = useSound();
  const press = usePress();
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState('');
  const [words, setWords] = useState(before?.words ?? '');
  const [part, setPart] = useState<{ from: number; to: number } | null>(null);
  const [problems, setProblems] = useState<{ field: string; message: string }[]>([]);
  const [pending, start] = useTransition();
  const { ready, seconds } = sound;
  const findings = findingsOf(words, ready, before, context);
  const open = (blob: Blob, remark: string | null = null) => {
    setPart(null);
    void sound.open(blob, remark);
  };
  const problemOf = (field: string) => problems.find((one) => one.field === field)?.message;
  const keep = () =>
    start(async () => {
      const kept = await keepRecording({ before, name, words, ready, press: press.token() });
      press.settle();
      if (!kept.ok) return setProblems(kept.problems);
      toast('Kept.');
      router.push(`/sends/voice-messages/${kept.id}`);
      router.refresh();
    });
  const may =
    words.trim() !== '' && (ready !== null || before !== null) && (before !== null || name.trim() !== '');
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_20rem]">
      <div
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          const [dropped] = event.dataTransfer.files;
          if (dropped) open(dropped);
        }}
      >
        {before === null && (
          <div className="mb-4">
            <label htmlFor={`${id}n`} className="mb-1 block text-sm text-soft">
              Name
            </label>
            <input
              id={`${id}n`}
              className="input"
              maxLength={80}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
            <Problem>{problemOf('name')}</Problem>
          </div>
        )}
        <fieldset className="border-t border-rule pt-3">
          <legend className="pr-3 font-head text-lg">What is heard</legend>
          <Microphone take={open} complain={sound.complain} again={ready !== null || before !== null} />
          <p className="mt-2 text-sm text-soft">
            Or{' '}
            <button type="button" className="link" onClick={() => file.current?.click()}>
              choose a file
            </button>{' '}
            (MP3, WAV, M4A, OGG, FLAC), or drop one here. Silence is cut and the loudness made even.
          </p>
          <input
            ref={file}
            type="file"
            accept={FORMATS}
            aria-label="A file of a recording"
            className="sr-only"
            tabIndex={-1}
            onChange={({ target }) => {
              const [chosen] = target.files ?? [];
              if (chosen) open(chosen);
              target.value = '';
            }}
          />
          <p role="status" className="min-h-6">
            {sound.working ? 'Making it ready …' : ''}
          </p>
          <Problem>{sound.problem ?? problemOf('wave')}</Problem>
          {seconds > 0 && (
            <Waveform
              shape={sound.shape}
              seconds={seconds}
              part={part ?? { from: 0, to: seconds }}
              cut={(chosen) => (setPart(chosen), sound.cut(chosen.from, chosen.to))}
            />
          )}
          {ready ? (
            <div className="mt-3 grid gap-4 sm:grid-cols-2">
              <Player wave={ready.wave} label={`As it is kept, ${ready.facts.seconds.toFixed(1)} seconds`} />
              <Player wave={ready.phone} label="As a phone plays it" />
            </div>
          ) : (
            before && !sound.working && <KeptPlayer id={before.recordingId} label="The version before" />
          )}
        </fieldset>
        <div className="mt-5">
          <label htmlFor={`${id}w`} className="mb-1 block text-sm text-soft">
            What is said, word for word
          </label>
          <textarea
            id={`${id}w`}
            className="input min-h-32"
            maxLength={2_000}
            value={words}
            placeholder="Hello, this is … of …"
            onChange={(event) => setWords(event.target.value)}
          />
          <Problem>{problemOf('words')}</Problem>
        </div>
        <Problem>{problemOf('role') ?? problemOf('version')}</Problem>
        <button
          type="button"
          className="button button-main mt-5"
          disabled={!may || pending || sound.working}
          onClick={keep}
        >
          {pending ? 'Keeping it …' : before ? 'Keep as a new version' : 'Keep it'}
        </button>
      </div>
      <aside aria-label="Margin" className="border-rule lg:border-l lg:pl-6">
        <section aria-live="polite">
          <h2 className="mb-1">What there is to mend</h2>
          <VoiceFindings findings={findings} />
        </section>
        {ready && (
          <section className="mt-6">
            <h2 className="mb-1">The sound</h2>
            <p>
              It came at {lufs(ready.facts.loudnessBefore)} and is kept at {lufs(ready.facts.loudness)};{' '}
              {ready.facts.cut.toFixed(1)} seconds of silence were cut.
            </p>
          </section>
        )}
      </aside>
    </div>
  );
}

const lufs = (loudness: number): string => `${loudness.toFixed(1).replace('-', '−')} LUFS`;

function findingsOf(
  words: string,
  ready: ReadySound | null,
  before: VersionBefore | null,
  context: Props['context'],
): ShownFinding[] {
  const seconds = ready?.facts.seconds ?? before?.seconds ?? null;
  const said = checkVoiceWords(words, { ...context, seconds });
  return [
    ...said.map(({ code, severity, message }) => ({ code, severity, words: message })),
    ...(ready ? soundFindings(ready.facts) : []),
  ];
}

type Kept = { ok: true; id: string } | { ok: false; problems: { field: string; message: string }[] };

async function keepRecording({
  before,
  name,
  words,
  ready,
  press,
}: {
  before: VersionBefore | null;
  name: string;
  words: string;
  ready: ReadySound | null;
  press: string;
}): Promise<Kept> {
  const form = new FormData();
  form.set('name', name);
  form.set('words', words);
  form.set('press', press);
  if (before) form.set('message', before.messageId);
  if (ready) {
    form.set('wave', new Blob([ready.wave as BlobPart], { type: 'audio/wav' }), 'voice.wav');
    form.set('found', JSON.stringify(ready.facts));
  }
  try {
    const response = await fetch('/internal/voice', { method: 'POST', body: form });
    const said = (await response.json()) as { id?: string; problems?: { field: string; message: string }[] };
    return said.id
      ? { ok: true, id: said.id }
      : {
          ok: false,
          problems: said.problems ?? [{ field: 'wave', message: 'It could not be kept. Try again.' }],
        };
  } catch {
    return {
      ok: false,
      problems: [{ field: 'wave', message: 'No connection. It is still here: try again.' }],
    };
  }
}
