import { showOwnValue } from '@/core/people/values';
import { Person } from '@/db/people/entities';
import { namesOfThings } from '@/db/audience/things';
import type { Scope } from '@/db/kit/scope';
import { ownFields } from '@/services/audience/own-fields';

export interface EditableField {
  name: string;
  label: string;
  value: string;
  /** What may be chosen; null: typed. */
  options: { value: string; label: string }[] | null;
  hint: string;
}

export interface PersonDesk {
  fields: EditableField[];
  labels: { id: string; kind: 'tag' | 'list'; name: string }[];
  /** Tags and lists that could be put on. */
  known: { kind: 'tag' | 'list'; name: string }[];
  merges: { id: string; name: string; at: Date }[];
  mergedInto: string | null;
  erased: boolean;
}

/** What can be changed about somebody where it stands. */
export async function readPersonDesk(scope: Scope, id: string): Promise<PersonDesk | null> {
  const person = await scope.em.findOne(Person, { id });
  if (!person) return null;
  const things = await namesOfThings(scope);
  const choicesOf = (kind: string) =>
    things.filter((thing) => thing.kind === kind).map((thing) => ({ value: thing.id, label: thing.name }));
  const own = await ownFields(scope);
  const plain = (name: string, label: string, value: string | null, hint = ''): EditableField => ({
    name,
    label,
    value: value ?? '',
    options: null,
    hint,
  });
  const labels = await scope.rows<{ id: string; kind: 'tag' | 'list'; name: string }>(
    `select l.id, l.kind, l.name from person_label x join label l on l.id = x.label_id where x.workspace_id = :workspace and x.person_id = :id order by lower(l.name)`,
    { id },
  );
  return {
    fields: [
      plain('first_name', 'first name', person.firstName),
      plain('last_name', 'last name', person.lastName),
      plain('email', 'e-mail', person.email),
      plain('region', 'state', person.region, 'two letters, such as CO'),
      plain('postal_code', 'postal code', person.postalCode),
      plain('zone', 'time zone', person.zone, 'such as America/Denver'),
      plain('language', 'language', person.language, 'a tag such as en or es'),
      { name: 'stage', label: 'stage', value: person.stageId ?? '', options: choicesOf('stage'), hint: '' },
      {
        name: 'owner',
        label: 'owner',
        value: person.ownerId ?? '',
        options: choicesOf('teammate'),
        hint: '',
      },
      ...own.map(({ key, label, kind, options }): EditableField => ({
        name: `own.${key}`,
        label,
        value: showOwnValue(person.fields[key]),
        options:
          kind === 'one-of'
            ? options.map((value) => ({ value, label: value }))
            : kind === 'yes-no'
              ? ['yes', 'no'].map((value) => ({ value, label: value }))
              : null,
        hint:
          kind === 'date' ? 'such as 2026-11-24' : kind === 'several-of' ? `of: ${options.join(', ')}` : '',
      })),
    ],
    labels,
    known: things
      .filter(({ kind }) => kind === 'tag' || kind === 'list')
      .map(({ kind, name }) => ({ kind: kind as 'tag' | 'list', name })),
    merges: await scope.rows(
      `select m.id, m.at, coalesce(nullif(trim(coalesce(m.gone_before ->> 'firstName', '') || ' ' || coalesce(m.gone_before ->> 'lastName', '')), ''), m.gone_before ->> 'number') as name
         from merge m where m.workspace_id = :workspace and m.kept_id = :id and m.undone_at is null order by m.at desc`,
      { id },
    ),
    mergedInto: person.mergedInto,
    erased: person.erasedAt !== null,
  };
}
