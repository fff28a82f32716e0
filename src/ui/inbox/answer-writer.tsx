'use client';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { EditorHandle } from '@/ui/kit/text-editor';
import type { KeptFile } from '@/core/media/kinds';
import { USUAL_LIMITS } from '@/core/chat/network';
import type { Channel } from '@/core/message/channel';
import type { MergeField } from '@/core/text/fields';
import { parseTemplate, type TemplateValues } from '@/core/text/template';
import type { FormState } from '@/ui/kit/form-state';
import { Problem } from '@/ui/kit/problem';
import { useUnfinished, type Keeping } from '@/ui/kit/use-unfinished';
import { Writer } from '@/ui/kit/writer';
import { FilesField } from '@/ui/media/files-field';

interface Props {
  state: FormState;
  hint: string;
  fields: readonly MergeField[];
  /** What fields say of them. */
  values: TemplateValues;
  /** The channel it goes by. */
  channel: Channel;
  /** Files to choose from. */
  kept?: readonly KeptFile[];
  /** Prepared answers that fitted before. */
  suggested?: readonly SuggestedAnswer[];
}

/** A prepared answer that is proposed, and the words of theirs that speak for it. */
export interface SuggestedAnswer {
  id: string;
  name: string;
  body: string;
  question: string | null;
  because: readonly string[];
}

/**
 * The editor of an answer: how it reads for them stands below as soon as it names a field. What is written is kept on
 * the server until it is sent.
 */
export function AnswerWriter({ place, ...props }: Props & { place: string }) {
  const { found, keep, drop, keeping } = useUnfinished<Written>(place);
  // What was sent is gone from it, and the next begins empty.
  const [sent, setSent] = useState(props.state);
  const [turn, setTurn] = useState(0);
  if (props.state !== sent) {
    setSent(props.state);
    if (props.state.done !== null) setTurn(turn + 1);
  }
  useEffect(() => {
    if (turn > 0) drop();
  }, [turn, drop]);
  if (found === undefined) return <p className="mb-3 text-soft">Opening …</p>;
  const first = { body: '', files: [], ...(turn === 0 ? found?.content : {}) };
  return <Writing key={turn} first={first} {...{ keep, keeping }} {...props} />;
}

/** What was written, and the files that go along. */
interface Written {
  body: string;
  files: readonly KeptFile[];
}

interface WritingProps extends Props {
  /** What they had written before. */
  first: Written;
  keep(content: Written): void;
  keeping: Keeping;
}

function Writing({
  state,
  hint,
  fields,
  values,
  channel,
  first,
  keep,
  keeping,
  suggested = [],
  kept = [],
}: WritingProps) {
  const [body, setBody] = useState(first.body);
  const [files, setFiles] = useState(first.files);
  const [prepared, setPrepared] = useState('');
  const editor = useRef<EditorHandle>(null);
  const write = (text: string) => {
    setBody(text);
    keep({ body: text, files });
  };
  const takeAlong = (now: readonly KeptFile[]) => {
    setFiles(now);
    keep({ body, files: now });
  };
  const reads = useMemo(() => {
    const template = parseTemplate(body);
    return template.ok && template.value.fields.length > 0 ? template.value.render(values).text : null;
  }, [body, values]);
  return (
    <div className="mb-3">
      <input type="hidden" name="body" value={body} />
      <input type="hidden" name="prepared" value={prepared} />
      {files.map(({ id }) => (
        <input key={id} type="hidden" name="media" value={id} />
      ))}
      {suggested.length > 0 && body === '' && (
        <div className="mb-2">
          <p className="text-sm text-soft">Answers that fitted before</p>
          <ul>
            {suggested.map(({ id, name, body: words, because }) => (
              <li key={id} className="border-b border-rule py-1">
                <button
                  type="button"
                  className="link text-left"
                  onClick={() => (editor.current?.replace(words), setPrepared(id))}
                >
                  {name}
                </button>
                <span className="block text-sm text-soft">since they wrote {because.join(', ')}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      <FilesField
        {...{ files, kept }}
        change={takeAlong}
        problem={state.problems.find(({ field }) => field === 'media')?.message}
      >
        <Writer
          label="Answer"
          initial={first.body}
          value={body}
          onChange={write}
          fields={fields}
          counts={channel === 'sms'}
          ref={editor}
          onTemplate={({ id }) => setPrepared(id)}
          problem={state.problems.find(({ field }) => field === 'body')?.message}
        />
      </FilesField>
      {files.length > 0 && channel === 'email' && (
        <p className="mb-2 text-sm text-soft">They go as a link below the words.</p>
      )}
      {channel === 'chat' && (
        <QuickReplies problem={state.problems.find(({ field }) => field === 'buttons')?.message} />
      )}
      {reads !== null && (
        <p className="mt-2 whitespace-pre-wrap border-l-2 border-ink pl-3 text-sm [overflow-wrap:anywhere]">
          <span className="text-soft">For them: </span>
          {reads}
        </p>
      )}
      <p className="mt-1 text-sm text-soft">
        {keeping === 'lost' ? (
          <span className="text-bad">What you write is not kept: no connection. It is tried again.</span>
        ) : (
          hint
        )}
      </p>
    </div>
  );
}

/** What they can press instead of typing: it comes back as these words. */
function QuickReplies({ problem }: { problem: string | undefined }) {
  const { quickReplies, button } = USUAL_LIMITS;
  return (
    <details className="mb-2">
      <summary className="link text-sm">Let them press an answer</summary>
      <div className="mt-1 grid gap-2 sm:grid-cols-3">
        {Array.from({ length: quickReplies }, (_, i) => (
          <input
            key={i}
            name="button"
            aria-label={`Answer to press ${i + 1}`}
            className="input py-1!"
            maxLength={button}
          />
        ))}
      </div>
      <Problem>{problem}</Problem>
    </details>
  );
}
