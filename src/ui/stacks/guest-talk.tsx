'use client';
import { useState } from 'react';
import { askServer } from '@/ui/kit/ask';
import { Problem } from '@/ui/kit/problem';

interface Talk {
  name: string;
  waits: boolean;
  talk: { id: string; direction: 'in' | 'out'; at: string; body: string }[];
}

/** What went to and fro with somebody of a guest's stack, and an answer to them. */
export function GuestTalk({
  path,
  reply,
}: {
  path: string;
  reply: { personId: string; name: string; words: string };
}) {
  const [talk, setTalk] = useState<Talk | null>(null);
  const [words, setWords] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const read = () => askServer<Talk>(path, { act: 'talk', person: reply.personId }).then(setTalk);
  const act = (work: () => Promise<unknown>) => {
    setBusy(true);
    setProblem(null);
    work()
      .catch((error: unknown) =>
        setProblem(error instanceof Error ? error.message : 'It did not arrive. Try again.'),
      )
      .finally(() => setBusy(false));
  };
  const send = () =>
    act(async () => {
      await askServer(path, { act: 'answer', person: reply.personId, body: words });
      setWords('');
      await read();
    });
  return (
    <details onToggle={(event) => event.currentTarget.open && talk === null && act(read)}>
      <summary className="cursor-pointer">
        {reply.name || 'No name known'} <span className="[overflow-wrap:anywhere]">{reply.words}</span>
      </summary>
      <ol className="my-2 border-l border-rule pl-3">
        {talk?.talk.map(({ id, direction, body }) => (
          <li key={id} className={`py-1 ${direction === 'out' ? 'pl-6' : ''}`}>
            <span className="text-sm text-soft">{direction === 'out' ? '→ out ' : '← in '}</span>
            <span className="whitespace-pre-wrap [overflow-wrap:anywhere]">{body}</span>
          </li>
        ))}
      </ol>
      <label className="mb-2 block text-sm text-soft">
        Answer
        <textarea
          className="input text-ink"
          rows={3}
          maxLength={1_600}
          value={words}
          onChange={({ target }) => setWords(target.value)}
        />
      </label>
      <Problem>{problem}</Problem>
      <button
        type="button"
        className="button button-main"
        aria-disabled={busy}
        onClick={() => !busy && send()}
      >
        {busy ? 'Working …' : 'Send the answer'}
      </button>
    </details>
  );
}
