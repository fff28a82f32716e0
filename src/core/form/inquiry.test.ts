import { describe, expect, it } from 'vitest';
import { readInquiry } from '../inquiry/read-inquiry';
import { NO_MAPPING } from '../inquiry/mapping';
import type { OwnField } from '../people/values';
import { newForm } from './document';
import { inquiryTree, mappingOfForm } from './inquiry';

const OWN: OwnField[] = [
  { key: 'question', label: 'Your question', kind: 'text', options: [] },
  { key: 'planet', label: 'Planet', kind: 'one-of', options: ['Saturn', 'Mars'] },
];
const fields = [
  ...newForm('Ask us').fields,
  { field: 'email', label: '', help: '', required: false },
  { field: 'own.question', label: '', help: '', required: false },
  { field: 'own.planet', label: '', help: '', required: false },
];
const context = { country: 'US', own: new Map(OWN.map((field) => [field.key, field])) };

describe('an inquiry by a form of ours', () => {
  const tree = inquiryTree('Ask us', '+17205550178', [
    ['first_name', 'Ben'],
    ['last_name', 'Alder'],
    ['email', 'ben@example.org'],
    ['own.question', 'Is the dome warm / in winter?'],
    ['own.planet', 'Saturn'],
  ]);

  it('is read by the mapping its fields give, without anybody mapping it', () => {
    const read = readInquiry(tree, { ...NO_MAPPING, rules: mappingOfForm(fields, OWN) }, context);
    expect(read).toMatchObject({
      ok: true,
      value: {
        kind: 'inquiry',
        words: 'Is the dome warm / in winter?',
        person: {
          ...{ number: '+17205550178', first_name: 'Ben', last_name: 'Alder', email: 'ben@example.org' },
          fields: { question: 'Is the dome warm / in winter?', planet: 'Saturn' },
        },
      },
    });
  });

  it('says nothing of what was left empty', () => {
    const bare = inquiryTree('Ask us', '+17205550178', []);
    const read = readInquiry(bare, { ...NO_MAPPING, rules: mappingOfForm(fields, OWN) }, context);
    expect(read).toMatchObject({ ok: true, value: { words: '', person: { number: '+17205550178' } } });
  });

  it('has no words where the form asks for none', () => {
    expect(mappingOfForm(newForm('Sign up').fields, OWN).map(({ to }) => to)).toEqual([
      ...['first_name', 'last_name', 'number'],
    ]);
  });
});
