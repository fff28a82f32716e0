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
