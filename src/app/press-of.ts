/** The token of a press: a form sends it with what was typed. Null: the form was sent without a script running. */
export const pressOf = (data: FormData): string | null => {
  const press = data.get('press');
  return typeof press === 'string' && press !== '' ? press : null;
};
