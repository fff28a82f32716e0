import { askedOf, type Asked } from '../question/fields';
import type { OwnField } from '../people/values';
import type { Language } from './words';

/** The form of the documents written today. */
export const FORM_FORMAT = 'steady-wren/form/1';

/** One thing a form asks for. `number` is always among them: it is what is agreed for. */
export interface FormField {
  /** `number`, `name`, `email`, `postal_code`, or `own.<key>`. */
  field: string;
  /** What stands over it; empty: in words of ours. */
  label: string;
  /** A hint under it; empty: none. */
  help: string;
  required: boolean;
}

/** What a form shows. What is agreed to is not in it: that is worded by rule, from the program. */
export interface FormDocument {
  format: typeof FORM_FORMAT;
  language: Language;
  title: string;
  intro: string;
  fields: FormField[];
  /** On the button; empty: words of ours. */
  button: string;
  /** Said once it was sent; empty: words of ours alone. */
  thanks: string;
  look: {
    /** `#rrggbb`, the business's colour. */
    colour: string;
    /** A picture above the title, by its id. */
    picture?: string;
  };
}

export const MOST_FIELDS = 20;

/** A form to begin with. */
export const newForm = (title: string): FormDocument => ({
  format: FORM_FORMAT,
  language: 'en',
  title,
  intro: '',
  fields: [
    { field: 'name', label: '', help: '', required: false },
    { field: 'number', label: '', help: '', required: true },
  ],
  button: '',
  thanks: '',
  look: { colour: '#8c3a1c' },
});

/** What a field holds; null: the workspace has it no more. A number is a field of its own kind. */
export const fieldKind = (field: string, own: readonly OwnField[]): Asked | 'number' | null =>
  field === 'number' ? 'number' : askedOf(field, own);
