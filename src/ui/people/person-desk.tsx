'use client';
import { Problem } from '@/ui/kit/problem';
import { X } from 'lucide-react';
import { useId, useState, useTransition } from 'react';

export interface EditableField {
  name: string;
  label: string;
  value: string;
  options: { value: string; label: string }[] | null;
  hint: string;
}

interface Props {
  fields: EditableField[];
  labels: { id: string; kind: 'tag' | 'list'; name: string }[];
  known: { kind: 'tag' | 'list'; name: string }[];
  mayEdit: boolean;
  /** A sentence when it was refused. */
  save(field: string, value: string): Promise<string | null>;
  label(kind: 'tag' | 'list', name: string, on: boolean): Promise<string | null>;
}

/** What is known of somebody, each line changed where it stands. */
export function PersonDesk({ fields, labels, known, mayEdit, save, label }: Props) {
  return (
    <>
      <dl className="mb-4">
        {fields.map((field) => (
          <Line key={field.name} field={field} mayEdit={mayEdit} save={save} />
        ))}
      </dl>
      <Labels title="Tags" kind="tag" labels={labels} known={known} mayEdit={mayEdit} label={label} />
      <Labels title="Lists" kind="list" labels={labels} known={known} mayEdit={mayEdit} label={label} />
    </>
  );
}

function Line({ field, mayEdit, save }: { field: EditableField; mayEdit: boolean; save: Props['save'] }) {
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const shown = field.options?.find(({ value }) => value === field.value)?.label ?? field.value;
  const keep = (value: string) =>
    start(async () => {
      if (value === field.value) return setTyped(null);
      const refused = await save(field.name, value);
      setProblem(refused);
      if (!refused) setTyped(null);
    });
  return (
    <div className="flex flex-wrap items-baseline justify-between gap-x-4 border-b border-rule py-1">
      <dt className="text-soft">{field.label}</dt>
      <dd className="min-w-0 text-right [overflow-wrap:anywhere]">
        {typed === null ? (
          mayEdit ? (
            <button
              type="button"
              className="border-b border-dotted border-soft text-right"
              aria-label={`Change ${field.label}: ${shown || 'empty'}`}
              onClick={() => setTyped(field.value)}
            >
              {shown || <span className="text-soft">empty</span>}
            </button>
          ) : (
            shown
          )
        ) : field.options ? (
          <select
            autoFocus
            aria-label={field.label}
            className="input py-0.5!"
            value={typed}
            disabled={pending}
            onChange={(event) => (setTyped(event.target.value), keep(event.target.value))}
            onBlur={() => setTyped(null)}
          >
            <option value="">none</option>
            {field.options.map(({ value, label }) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        ) : (
          <input
            autoFocus
            aria-label={field.label}
            placeholder={field.hint}
            className="input py-0.5!"
            value={typed}
            disabled={pending}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') keep(typed);
              if (event.key === 'Escape') {
                setTyped(null);
                setProblem(null);
              }
            }}
            onBlur={() => keep(typed)}
          />
        )}
      </dd>
      {problem && (
        <dd className="w-full text-right text-sm text-bad">
          <span role="alert">{problem}</span>
        </dd>
      )}
    </div>
  );
}

function Labels({
  title,
  kind,
  labels,
  known,
  mayEdit,
  label,
}: { title: string; kind: 'tag' | 'list' } & Omit<Props, 'fields' | 'save'>) {
  const id = useId();
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [, start] = useTransition();
  const mine = labels.filter((one) => one.kind === kind);
  const put = (name: string, on: boolean) =>
    start(async () => {
      setProblem(await label(kind, name, on));
      setTyped('');
    });
  return (
    <div className="mb-3">
      <p className="text-soft">{title}</p>
      <ul className="flex flex-wrap gap-2">
        {mine.map((one) => (
          <li key={one.id} className="flex items-center border-b-2 border-rule">
            {one.name}
            {mayEdit && (
              <button
                type="button"
                className="p-1 text-soft hover:text-ink"
                aria-label={`Take off ${one.name}`}
                onClick={() => put(one.name, false)}
              >
                <X size={13} aria-hidden="true" />
              </button>
            )}
          </li>
        ))}
        {mine.length === 0 && <li className="text-soft">none</li>}
      </ul>
      {mayEdit && (
        <form
          className="mt-1 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (typed.trim()) put(typed, true);
          }}
        >
          <input
            aria-label={kind === 'tag' ? 'A tag, old or new' : 'A list, old or new'}
            className="input py-0.5!"
            list={id}
            maxLength={60}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          <datalist id={id}>
            {known
              .filter((one) => one.kind === kind)
              .map(({ name }) => (
                <option key={name} value={name} />
              ))}
          </datalist>
          <button className="button py-0.5">Add</button>
        </form>
      )}
      <Problem>{problem}</Problem>
    </div>
  );
}
