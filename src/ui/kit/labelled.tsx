import { sentenceOf } from '@/core/shared/sentence';
import { Problem } from './problem';

/** What an action of a desk answers: nothing wrong, or what is, by field. */
export interface Problems {
  problems: { field: string; message: string }[];
}

/** What is wrong with a field, or with a part of it, as a sentence. */
export const problemOf = (problems: Problems['problems'], field: string): string | null => {
  const found = problems.find((one) => one.field === field || one.field.startsWith(`${field}.`));
  return found ? sentenceOf(found.message) : null;
};

/** A field with its name above and what is wrong with it below. */
export function Labelled({
  name,
  label,
  problems,
  children,
}: {
  name: string;
  label: string;
  problems: Problems['problems'];
  children(id: string): React.ReactNode;
}) {
  const id = `field-${name}`;
  return (
    <div className="mb-3">
      <label htmlFor={id} className="mb-1 block text-sm text-soft">
        {label}
      </label>
      {children(id)}
      <Problem>{problemOf(problems, name)}</Problem>
    </div>
  );
}

type Rest<Element extends 'input' | 'select' | 'textarea'> = Omit<
  React.ComponentProps<Element>,
  'id' | 'name' | 'value' | 'onChange' | 'className'
>;

interface Field {
  name: string;
  label: string;
  problems: Problems['problems'];
  value: string;
  set(value: string): void;
  /** Beside the usual look. */
  narrow?: string;
}

/** One line that is typed, or a date, a number. */
export function LabelledInput({ name, label, problems, value, set, narrow, ...rest }: Field & Rest<'input'>) {
  return (
    <Labelled {...{ name, label, problems }}>
      {(id) => (
        <input
          id={id}
          className={narrow ? `input ${narrow}` : 'input'}
          value={value}
          onChange={(event) => set(event.target.value)}
          {...rest}
        />
      )}
    </Labelled>
  );
}

/** Some lines that are typed. */
export function LabelledText({ name, label, problems, value, set, ...rest }: Field & Rest<'textarea'>) {
  return (
    <Labelled {...{ name, label, problems }}>
      {(id) => (
        <textarea
          id={id}
          className="input"
          rows={2}
          value={value}
          onChange={(event) => set(event.target.value)}
          {...rest}
        />
      )}
    </Labelled>
  );
}

/** One of several, by value and words. */
export function LabelledChoice({
  name,
  label,
  problems,
  value,
  set,
  options,
}: Field & { options: readonly (readonly [value: string, words: string])[] }) {
  return (
    <Labelled {...{ name, label, problems }}>
      {(id) => (
        <select id={id} className="input" value={value} onChange={(event) => set(event.target.value)}>
          {options.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      )}
    </Labelled>
  );
}

/** A colour of the business. */
export function LabelledColour({ name, label, problems, value, set }: Field) {
  return (
    <Labelled {...{ name, label, problems }}>
      {(id) => (
        <input
          id={id}
          type="color"
          className="h-9 w-20"
          value={value}
          onChange={(event) => set(event.target.value)}
        />
      )}
    </Labelled>
  );
}
