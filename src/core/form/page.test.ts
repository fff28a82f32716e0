import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newForm } from './document';
import { agreementText, formPage, personalPage, sentPage, TRAP, type FormView } from './page';
import { shownFields } from './read';
import { FORM_WORDS, LANGUAGES, type Language } from './words';
import { readCallToAction } from '../program/call-to-action';

const OWN = [
  { key: 'planet', label: 'Favourite planet', kind: 'one-of' as const, options: ['Mars', 'Venus'] },
  { key: 'days', label: 'Days', kind: 'several-of' as const, options: ['Fri', 'Sat'] },
  { key: 'born', label: 'Birthday', kind: 'date' as const, options: [] },
  { key: 'party', label: 'Party', kind: 'number' as const, options: [] },
  { key: 'first', label: 'First time', kind: 'yes-no' as const, options: [] },
];

const view = (more: Partial<FormView> = {}): FormView => {
  const document = {
    ...newForm('Sign up'),
    fields: [
      ...newForm('Sign up').fields,
      ...OWN.map(({ key }) => ({ field: `own.${key}`, label: '', help: 'A hint', required: false })),
    ],
  };
  return {
    ...{ document, fields: shownFields(document.fields, OWN), typed: {}, problems: {} },
    ...{ business: 'Juniper Gap Observatory', wording: 'I agree.', press: 'press-1234', drawnAt: 1 },
    ...{ termsUrl: 'https://example.org/terms', privacyUrl: null, picture: null, script: '/f/form.js' },
    ...more,
  };
};

/** What a browser would run or load, or leave open. */
const tagsOf = (html: string): string[] =>
  (html.match(/<[a-z!/][^<>]*>/gi) ?? []).map((tag) => tag.split(/[\s>]/)[0]!);

describe('the page of a form', () => {
  it('has a label for every field, an unticked box, and a field nobody sees', () => {
    const html = formPage(view());
    for (const id of html.matchAll(/<(?:input|select) [^>]*id="(f-[^"]+)"/g))
      expect(html).toContain(`<label for="${id[1]}"`);
    expect(html).toContain('<fieldset><legend>Days');
    expect(html).toContain('<input type="checkbox" name="agree" value="yes">');
    expect(html).toContain(`name="${TRAP}" tabindex="-1"`);
    expect(html).toContain('href="https://example.org/terms"');
    expect(html).not.toContain('Privacy');
  });

  it('draws again what was typed, with what is wrong beside it', () => {
    const html = formPage(
      view({ typed: { number: '12', 'own.days': 'Sat', agree: 'yes' }, problems: { number: 'number' } }),
    );
    expect(html).toContain('value="12"');
    expect(html).toContain('value="Sat" checked');
    expect(html).not.toContain('value="Fri" checked');
    expect(html).toContain('value="yes" checked');
    expect(html).toContain('aria-describedby="f-number-wrong" aria-invalid="true"');
    expect(html).toContain('role="alert"');
  });

  it('lets nobody write markup, whatever stands in the document, the workspace or what was typed', () => {
    const plain = view();
    const before = tagsOf(formPage(plain));
    const hostile = fc.oneof(
      fc.constantFrom(
        '<script>alert(1)</script>',
        '" onload="x',
        "'><img src=x onerror=y>",
        '</style><b>',
        '<!--',
        '&lt;b&gt;',
      ),
      fc.string(),
    );
    fc.assert(
      fc.property(hostile, (text) => {
        const words = `x${text.replace(/\s+/g, ' ')}x`;
        const html = formPage({
          ...plain,
          ...{ business: words, wording: words, press: words },
          document: { ...plain.document, title: words, button: words, look: { colour: words } },
          fields: plain.fields.map((field) => ({ ...field, label: words })),
          typed: { name: words, number: words },
        });
        expect(tagsOf(html)).toEqual(before);
        expect(html).not.toMatch(/\son\w+="/i);
      }),
    );
  });

  it('links nothing but web addresses', () => {
    expect(formPage(view({ termsUrl: 'javascript:alert(1)' }))).not.toContain('javascript:');
  });
});

describe('what is agreed to', () => {
  it('says all that the rules ask for', () => {
    const call = {
      ...{
        business: 'Juniper Gap Observatory',
        program: 'Clear Sky Alerts',
        contact: 'x',
        purpose: 'marketing' as const,
      },
      ...{
        promise: { count: 6, period: 'month' as const },
        keyword: 'sky',
        numbers: [],
        termsUrl: null,
        privacyUrl: null,
      },
    };
    const codes = readCallToAction(agreementText('en', call), call).map(({ code }) => code);
    // A form has no keyword and no number to text; terms and privacy are links below it.
    expect(codes).toEqual(['number', 'terms', 'privacy']);
  });

  it.each(Object.keys(LANGUAGES) as Language[])('is whole in %s', (language) => {
    const of = { business: 'B', program: 'P', promise: { count: 2, period: 'week' as const } };
    const text = agreementText(language, of);
    for (const word of ['B', 'P', '2', 'HELP', 'STOP']) expect(text).toContain(word);
    expect(agreementText(language, { ...of, promise: null })).not.toMatch(/\d|null|undefined/);
    expect(Object.keys(FORM_WORDS[language].problems)).toEqual(Object.keys(FORM_WORDS.en.problems));
  });
});

it('says the same to everybody once it was sent', () => {
  const html = sentPage({ ...view(), number: '(303) 555-0100', sender: '(719) 555-0110' });
  expect(html).toContain('We have sent a text to (303) 555-0100.');
  expect(html).toContain('text START to (719) 555-0110');
});

it('greets whoever a personal link is for, and asks for nothing else', () => {
  const open = {
    state: 'open' as const,
    business: 'B',
    firstName: 'Ana <b>',
    typed: {},
    problems: {},
    script: null,
  };
  const fields = shownFields([{ field: 'email', required: false }], []);
  const html = personalPage({ ...open, fields });
  expect(html).toContain('Hello Ana &lt;b&gt;');
  expect(html.match(/<input/g)).toHaveLength(1);
  expect(personalPage({ ...open, state: 'expired', fields: [] })).not.toContain('<form');
});
