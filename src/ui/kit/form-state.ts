/** What a form shows after its action ran. */
export interface FormState {
  problems: { field: string; message: string }[];
  /** What was typed, by field name: nothing is lost when a value is refused. */
  values: Record<string, string>;
  /** A word of success; null while there is none. */
  done: string | null;
}
