'use client';
import { useRouter } from 'next/navigation';
import { useRef, useState, useTransition } from 'react';
import { toast } from 'sonner';
import type { MergeField } from '@/core/text/fields';
import { LabelledInput } from '@/ui/kit/labelled';
import { Problem } from '@/ui/kit/problem';
import { usePress } from '@/ui/kit/press';
import type { EditorHandle } from '@/ui/kit/text-editor';
import { Writer } from '@/ui/kit/writer';

export interface TemplateValues {
  /** Null: it is new. */
  id: string | null;
  version: number;
  name: string;
  folder: string;
  /** Of a letter; empty: none. */
  subject: string;
  /** Of a prepared answer; empty: it is none. */
  question: string;
  body: string;
  own: boolean;
}

interface Props {
  initial: TemplateValues;
  fields: readonly MergeField[];
  /** Its words as they were, the newest first. */
  before: readonly { version: number; body: string }[];
  save(
    values: TemplateValues,
    press: string,
  ): Promise<{ problems: { field: string; message: string }[]; id: string | null }>;
}

/** Writing a template: its words, where it lies, and whose it is. */
export function TemplateDesk({ initial, fields, before, save }: Props) {
  const [values, setValues] = useState(initial);
  const [problems, setProblems] = useState<{ field: string; message: string }[]>([]);
  const [pending, start] = useTransition();
  const editor = useRef<EditorHandle>(null);
  const press = usePress();
  const router = useRouter();
  const set = (part: Partial<TemplateValues>) => setValues((old) => ({ ...old, ...part }));
  const problemOf = (field: string) => problems.find((problem) => problem.field === field)?.message;
  const keep = () =>
    start(async () => {
      const outcome = await save(values, press.token());
      press.settle();
      setProblems(outcome.problems);
      if (outcome.id === null) return;
      toast('Template kept.');
      router.push('/sends/templates');
      router.refresh();
    });
  return (
    <div className="max-w-3xl">
      <div className="grid gap-x-4 sm:grid-cols-2">
        <LabelledInput
          {...{ name: 'name', label: 'Name', problems, value: values.name, maxLength: 80 }}
          set={(name) => set({ name })}
        />
        <LabelledInput
          {...{
            name: 'folder',
            label: 'Folder, empty for none',
            problems,
            value: values.folder,
            maxLength: 60,
          }}
          set={(folder) => set({ folder })}
        />
      </div>
      <LabelledInput
        {...{ name: 'subject', label: 'Subject, for letters only', problems, value: values.subject }}
        maxLength={300}
        set={(subject) => set({ subject })}
      />
      <LabelledInput
        {...{
          name: 'question',
          label: 'Of a prepared answer: the question it answers',
          problems,
          value: values.question,
          maxLength: 200,
          placeholder: 'What does it cost?',
        }}
        set={(question) => set({ question })}
      />
      <Writer
        ref={editor}
        label="Text"
        initial={initial.body}
        value={values.body}
        onChange={(body) => set({ body })}
        fields={fields}
        counts={values.subject === ''}
        problem={problemOf('body')}
      />
      <label className="mt-4 flex items-center gap-2">
        <input
          type="checkbox"
          checked={values.own}
          onChange={(event) => set({ own: event.target.checked })}
        />
        only for me
      </label>
      <Problem>{problemOf('version') ?? problemOf('stamp') ?? problemOf('role')}</Problem>
      <div className="mt-4 flex flex-wrap items-center gap-3">
        <button type="button" className="button button-main" disabled={pending} onClick={keep}>
          {pending ? 'Working …' : 'Keep the template'}
        </button>
        {before.length > 0 && (
          <button type="button" className="button" onClick={() => editor.current?.replace(before[0]!.body)}>
            Write it as in version {before[0]!.version}
          </button>
        )}
      </div>
    </div>
  );
}
