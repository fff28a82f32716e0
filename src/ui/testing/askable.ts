import { BUILT_IN } from '@/core/audience/fields';
import type { Askable } from '@/ui/audience/leaf-editor';

/** A workspace's things and fields for the tests of what is built of them. */
export const ASKABLE: Askable = {
  fields: [
    ...BUILT_IN.map((field) => ({
      ...field,
      options:
        field.name === 'place'
          ? [
              { value: 'CO', label: 'Colorado' },
              { value: 'WY', label: 'Wyoming' },
            ]
          : null,
    })),
    { name: 'own.planet', label: 'Favourite planet', kind: 'text', options: null },
    { name: 'own.visits', label: 'Visits', kind: 'number', options: null },
    { name: 'own.birthday', label: 'Birthday', kind: 'date', options: null },
  ],
  things: [
    { kind: 'tag', id: 'lab_1', name: 'member' },
    { kind: 'tag', id: 'lab_2', name: 'school' },
    { kind: 'list', id: 'lab_3', name: 'Open evening' },
    { kind: 'stage', id: 'stg_1', name: 'Asked' },
    { kind: 'program', id: 'prg_1', name: 'Clear Sky Alerts' },
    { kind: 'program', id: 'prg_2', name: 'Star Parties' },
    { kind: 'broadcast', id: 'brc_1', name: 'Saturn week' },
    { kind: 'segment', id: 'seg_1', name: 'Regulars' },
    { kind: 'teammate', id: 'acc_1', name: 'Noor' },
  ],
};
