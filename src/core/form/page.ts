import { escaped } from '../shared/escape';
import { inkOn, isColour, readableOn } from './colour';
import type { FormDocument, FormField } from './document';
import type { Problems, ShownField, Typed } from './read';
import { FORM_WORDS, type Agreement, type FormWords, type Language } from './words';

/** What a page of ours shows to anybody: without scripts, by keyboard, in 360 pixels. */
interface Frame {
  language: Language;
  title: string;
  business: string;
  colour: string;
  /** The address of a picture above the title. */
  picture: string | null;
  /** The address of the script that counts and that lets a frame grow; null: none is loaded. */
  script: string | null;
}

export interface FormView {
  document: FormDocument;
  business: string;
  /** What is agreed to, as the version has it. */
  wording: string;
  fields: (ShownField & Pick<FormField, 'label' | 'help'>)[];
  /** The fields that are asked for now, with what was typed and what is wrong with it. */
  typed: Typed;
  problems: Problems;
  termsUrl: string | null;
  privacyUrl: string | null;
  picture: string | null;
  script: string | null;
  /** Told apart from every other time the page was drawn: sent twice it counts once. */
  press: string;
  /** When it was drawn, in milliseconds; null in a preview. */
  drawnAt: number | null;
}

/** A field nobody sees: who fills it in is a machine. Its name is one that machines like. */
export const TRAP = 'website';

/** The page of a form. */
export function formPage(view: FormView): string {
  const words = FORM_WORDS[view.document.language];
  const wrong = Object.keys(view.problems).length > 0;
  return page(
    frameOf(view, wrong),
    `${heading(view.document.title)}${paragraphs(view.document.intro)}
${wrong ? `<p class="wrong" role="alert">! ${escaped(words.wrong)}</p>` : ''}
<form method="post" novalidate>
${hidden('press', view.press)}${view.drawnAt === null ? '' : hidden('drawn', String(view.drawnAt))}
<p class="trap" aria-hidden="true"><label>${TRAP}<input name="${TRAP}" tabindex="-1" autocomplete="off"></label></p>
${view.fields.map((field) => fieldHtml(field, view.typed, view.problems, words)).join('\n')}
${agreement(view, words)}
<button>${escaped(view.document.button.trim() || words.button)}</button>
</form>`,
  );
}

const frameOf = (
  view: Pick<FormView, 'document' | 'business' | 'picture' | 'script'>,
  wrong = false,
): Frame => ({
  language: view.document.language,
  title: wrong ? `! ${view.document.title}` : view.document.title,
  business: view.business,
  colour: view.document.look.colour,
  picture: view.picture,
  script: view.script,
});

/** What is agreed to, as it stands on the page: kept with the version as the evidence. */
export const agreementText = (language: Language, of: Agreement): string =>
  FORM_WORDS[language].agreement(of);

function agreement(view: FormView, words: FormWords): string {
  const wrong = view.problems.agree;
  const links = [
    [words.terms, view.termsUrl],
    [words.privacy, view.privacyUrl],
  ].flatMap(([word, url]) =>
    url && /^https?:\/\//.test(url)
      ? [`<a href="${escaped(url)}" target="_blank" rel="noopener">${escaped(word!)}</a>`]
      : [],
  );
  return `<div class="field agree">
<label><input type="checkbox" name="agree" value="yes"${view.typed.agree === 'yes' ? ' checked' : ''}${described('agree', wrong)}> <span>${escaped(view.wording)}</span></label>
${links.length > 0 ? `<p class="links">${links.join(' · ')}</p>` : ''}${problemHtml('agree', wrong && words.problems[wrong])}</div>`;
}

export interface SentView extends Pick<FormView, 'document' | 'business' | 'picture' | 'script'> {
  /** The number they gave, and the one that texts them, as people read them. */
  number: string;
  sender: string;
}

/** What is said once a form was sent: the same to everybody, whether we may text the number or not. */
export const sentPage = (view: SentView): string => {
  const words = FORM_WORDS[view.document.language];
  return page(
    frameOf(view),
    `${heading(view.document.title)}<div role="status">${paragraphs(view.document.thanks)}<p>${escaped(words.sent(view.number))}</p></div>
<p class="soft">${escaped(words.backAgain(view.sender))}</p>`,
  );
};

/** A page with one sentence instead of the form. */
export const sentencePage = (
  view: Pick<FormView, 'document' | 'business' | 'picture' | 'script'>,
  sentence: 'over' | 'too-many',
): string => {
  const words = FORM_WORDS[view.document.language];
  return page(
    frameOf(view),
    `${heading(view.document.title)}<p role="status">${escaped(sentence === 'over' ? words.over : words.problems['too-many'])}</p>`,
  );
};

export interface PersonalView {
  state: 'open' | 'finished' | 'expired';
  business: string;
  firstName: string | null;
  fields: ShownField[];
  typed: Typed;
  problems: Problems;
  script: string | null;
}

/** The page of a personal link. */
export function personalPage(view: PersonalView): string {
  const words = FORM_WORDS.en;
  const wrong = Object.keys(view.problems).length > 0;
  const frame: Frame = {
    ...{ language: 'en', title: view.business, business: view.business, colour: '#8c3a1c', picture: null },
    script: view.script,
  };
  if (view.state !== 'open')
    return page(
      frame,
      `${heading(view.business)}<p role="status">${escaped(view.state === 'finished' ? words.kept : words.over)}</p>`,
    );
  const general = view.problems[''];
  return page(
    frame,
    `${heading(view.firstName ? words.hello(view.firstName) : view.business)}
<p>${escaped(view.business)} asks you for what is missing. What you leave empty stays as it is.</p>
${wrong ? `<p class="wrong" role="alert">! ${escaped(general ? words.problems[general] : words.wrong)}</p>` : ''}
<form method="post" novalidate>
${view.fields.map((field) => fieldHtml({ ...field, label: '', help: '' }, view.typed, view.problems, words)).join('\n')}
<button>Send</button>
</form>`,
  );
}

type Shown = ShownField & Pick<FormField, 'label' | 'help'>;

function fieldHtml(shown: Shown, typed: Typed, problems: Problems, words: FormWords): string {
  const { field, kind, required } = shown;
  const id = `f-${escaped(field)}`;
  const problem = problems[field];
  const label = shown.label.trim() || labelOf(kind, words);
  const optional = required ? '' : ` <span class="soft">(${words.optional})</span>`;
  const hint = shown.help.trim() === '' ? '' : `<p class="soft" id="${id}-help">${escaped(shown.help)}</p>`;
  const control = controlHtml(shown, id, typed[field] ?? '', problem, words);
  const several = kind !== 'number' && kind.kind === 'own' && kind.own.kind === 'several-of';
  const head = several
    ? `<fieldset><legend>${escaped(label)}${optional}</legend>`
    : `<label for="${id}">${escaped(label)}${optional}</label>`;
  return `<div class="field">${head}${hint}${control}${problemHtml(field, problem && words.problems[problem])}${several ? '</fieldset>' : ''}</div>`;
}

const labelOf = (kind: ShownField['kind'], words: FormWords): string =>
  kind === 'number' ? words.number : kind.kind === 'own' ? kind.label : words[kind.kind];

function controlHtml(
  { field, kind, required, help }: Shown,
  id: string,
  value: string,
  problem: string | undefined,
  words: FormWords,
): string {
  const rest = `id="${id}" name="${escaped(field)}"${required ? ' required aria-required="true"' : ''}${described(field, problem, help.trim() !== '')}`;
  const input = (type: string, more = '') =>
    `<input type="${type}" ${rest} value="${escaped(value)}" maxlength="500"${more}>`;
  if (kind === 'number') return input('tel', ' autocomplete="tel" inputmode="tel"');
  switch (kind.kind) {
    case 'name':
      return input('text', ' autocomplete="name"');
    case 'email':
      return input('email', ' autocomplete="email"');
    case 'postal_code':
      return input('text', ' autocomplete="postal-code" inputmode="numeric"');
    case 'own':
      return ownControl(kind.own, field, rest, value, input, words);
  }
}

function ownControl(
  own: { kind: string; options: readonly string[] },
  field: string,
  rest: string,
  value: string,
  input: (type: string, more?: string) => string,
  words: FormWords,
): string {
  const option = (one: string, label = one) =>
    `<option value="${escaped(one)}"${one === value ? ' selected' : ''}>${escaped(label)}</option>`;
  switch (own.kind) {
    case 'date':
      return input('date');
    case 'number':
      return input('text', ' inputmode="decimal"');
    case 'yes-no':
      return `<select ${rest}>${option('', words.choose)}${option('yes', words.yes)}${option('no', words.no)}</select>`;
    case 'one-of':
      return `<select ${rest}>${option('', words.choose)}${own.options.map((one) => option(one)).join('')}</select>`;
    case 'several-of':
      return own.options
        .map(
          (one) =>
            `<label class="choice"><input type="checkbox" name="${escaped(field)}" value="${escaped(one)}"${value.split('\n').includes(one) ? ' checked' : ''}> ${escaped(one)}</label>`,
        )
        .join('');
    default:
      return input('text');
  }
}

const described = (field: string, problem: string | undefined, help = false): string => {
  const ids = [help ? `f-${field}-help` : '', problem ? `f-${field}-wrong` : ''].filter(Boolean).join(' ');
  return `${ids === '' ? '' : ` aria-describedby="${escaped(ids)}"`}${problem ? ' aria-invalid="true"' : ''}`;
};

const problemHtml = (field: string, words: string | undefined): string =>
  words ? `<p class="wrong" id="f-${escaped(field)}-wrong">! ${escaped(words)}</p>` : '';

const heading = (title: string): string => `<h1>${escaped(title)}</h1>`;

const hidden = (name: string, value: string): string =>
  `<input type="hidden" name="${name}" value="${escaped(value)}">`;

/** Paragraphs of plain words: nothing in them is markup. */
const paragraphs = (text: string): string =>
  text
    .split(/\n{2,}|\r\n\r\n/)
    .map((part) => part.trim())
    .filter((part) => part !== '')
    .map((part) => `<p>${escaped(part).replace(/\r?\n/g, '<br>')}</p>`)
    .join('\n');

const PAPER = '#f6f2e9';
const NIGHT = '#1e1c19';

function page({ language, title, business, colour: given, picture, script }: Frame, body: string): string {
  const colour = isColour(given) ? given : '#8c3a1c';
  const vars = (ground: string) => {
    const accent = readableOn(colour, ground);
    return `--ground:${ground};--accent:${accent};--on-accent:${inkOn(accent)};`;
  };
  return `<!doctype html>
<html lang="${language}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="robots" content="noindex">
<link rel="icon" href="/icon.svg">
<title>${escaped(title)}</title>
<style>
:root{color-scheme:light;${vars(PAPER)}--ink:#26231e;--soft:#5c5548;--rule:#857b68;--bad:#9b1c1c}
@media (prefers-color-scheme:dark){:root{color-scheme:dark;${vars(NIGHT)}--ink:#ece6da;--soft:#b5ab9a;--rule:#857b6c;--bad:#f2a19a}}
${STYLE}
</style>
</head>
<body>
<main>
${picture ? `<img src="${escaped(picture)}" alt="">` : ''}
${body}
<p class="soft from">${escaped(business)}</p>
</main>
${script ? `<script src="${escaped(script)}" async></script>` : ''}
</body>
</html>
`;
}

const STYLE = `*{box-sizing:border-box}
body{margin:0;background:var(--ground);color:var(--ink);font:16px/1.5 ui-sans-serif,system-ui,sans-serif}
main{max-width:34rem;margin:0 auto;padding:1.25rem 1.25rem 2rem;overflow-wrap:anywhere}
img{display:block;max-width:100%;max-height:14rem;margin:0 0 1rem}
h1{font:500 1.6rem/1.2 ui-serif,Georgia,serif;margin:0 0 .75rem;padding-bottom:.5rem;border-bottom:2px solid var(--accent)}
p{margin:0 0 .75rem}
a{color:var(--accent)}
.soft{color:var(--soft)}
.from{margin-top:2rem;font-size:.9rem}
.field{margin:0 0 1rem}
.field>label,legend{display:block;font-weight:600;margin-bottom:.25rem;padding:0}
.field .soft{margin:0 0 .25rem;font-weight:400;font-size:.95rem}
fieldset{border:0;margin:0;padding:0;min-width:0}
.field input[type=text],.field input[type=tel],.field input[type=email],.field input[type=date],select{width:100%;min-height:2.75rem;padding:.4rem .6rem;font:inherit;color:inherit;background:transparent;border:1px solid var(--rule);border-radius:2px}
select option{color:#26231e;background:#f6f2e9}
[aria-invalid=true]{border-color:var(--bad)!important}
.choice,.agree label{display:flex;gap:.6rem;align-items:flex-start;font-weight:400;padding:.25rem 0}
input[type=checkbox]{flex:none;width:1.25rem;height:1.25rem;margin:.15rem 0 0;accent-color:var(--accent)}
.agree .links{margin:.25rem 0 0 1.85rem}
.wrong{color:var(--bad);margin:.25rem 0 .75rem}
button{min-height:3rem;padding:.5rem 1.5rem;font:inherit;font-weight:600;color:var(--on-accent);background:var(--accent);border:0;border-radius:2px;cursor:pointer}
:focus-visible{outline:3px solid var(--accent);outline-offset:2px}
.trap{position:absolute;left:-100vw;height:1px;overflow:hidden}`;
