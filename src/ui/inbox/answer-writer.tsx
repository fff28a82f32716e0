'use client';
import { useMemo, useState } from 'react';
import type { MergeField } from '@/core/text/fields';
import { parseTemplate, type TemplateValues } from '@/core/text/template';
import type { FormState } from '@/ui/kit/form-state';
import { Writer } from '@/ui/kit/writer';

interface Props {
  state: FormState;
  hint: string;
  fields: readonly MergeField[];
  /** What fields say of them. */
  values: TemplateValues;
  /** It goes as a text. */
  counts: boolean;
}

/** The editor of an answer: how it reads for them stands below as soon as it names a field. */
export function AnswerWriter(props: Props) {
  // What was sent is gone from it, and the next begins empty.
  const [sent, setSent] = useState(props.state);
  const [turn, setTurn] = useState(0);
  if (props.state !== sent) {
    setSent(props.state);
    if (props.state.done !== null) setTurn(turn + 1);
  }
  return <Writing key={turn} {...props} />;
}

function Writing({ state, hint, fields, values, counts }: Props) {
  const [body, setBody] = useState('');
  const reads = useMemo(() => {
    const template = parseTemplate(body);
    return template.ok && template.value.fields.length > 0 ? template.value.render(values).text : null;
  }, [body, values]);
  return (
    <div className="mb-3">
      <input type="hidden" name="body" value={body} />
      <Writer
        label="Answer"
        initial=""
        value={body}
        onChange={setBody}
        fields={fields}
        counts={counts}
        problem={state.problems.find(({ field }) => field === 'body')?.message}
      />
      {reads !== null && (
        <p className="mt-2 whitespace-pre-wrap border-l-2 border-ink pl-3 text-sm [overflow-wrap:anywhere]">
          <span className="text-soft">For them: </span>
          {reads}
        </p>
      )}
      <p className="mt-1 text-sm text-soft">{hint}</p>
    </div>
  );
}
