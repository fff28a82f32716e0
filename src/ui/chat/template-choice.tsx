'use client';
import { Link } from '@/ui/kit/link';
import { plainBody } from '@/core/chat/template';
import type { WordingState } from '@/core/chat/wording-life';
import { Problem } from '@/ui/kit/problem';
import { languageName } from './language-name';
import { WordingMark } from './wording-mark';

/** A template that a message may go by. */
export interface ShownChatTemplate {
  id: string;
  name: string;
  category: string;
  body: string;
  languages: { language: string; state: WordingState }[];
}

/** Chooses the template by which a chat begins, and says how its languages stand. */
export function TemplateChoice({
  id,
  templates,
  chosen,
  choose,
  problem,
}: {
  id: string;
  templates: readonly ShownChatTemplate[];
  chosen: string;
  choose(id: string): void;
  problem: string | null | undefined;
}) {
  const template = templates.find((one) => one.id === chosen);
  return (
    <div className="mb-4">
      <label htmlFor={`${id}ct`} className="mb-1 block text-sm text-soft">
        Template: by chat a business may begin only with words the network has read
      </label>
      <select id={`${id}ct`} className="input" value={chosen} onChange={({ target }) => choose(target.value)}>
        <option value="">Choose one …</option>
        {templates.map(({ id: value, name, category }) => (
          <option key={value} value={value}>
            {name}, {category}
          </option>
        ))}
      </select>
      {templates.length === 0 && (
        <p className="mt-1 text-sm text-soft">
          None is written yet. <Link href="/sends/chat-templates">Write one</Link>, and hand it in.
        </p>
      )}
      <Problem>{problem}</Problem>
      {template && (
        <div className="mt-3 border-l-2 border-rule pl-3">
          <p className="whitespace-pre-wrap [overflow-wrap:anywhere]">{plainBody(template.body)}</p>
          <ul className="mt-2 text-sm">
            {template.languages.map(({ language, state }) => (
              <li key={language}>
                {languageName(language)} <WordingMark state={state} />
              </li>
            ))}
          </ul>
          <p className="mt-1 text-sm">
            <Link className="link" href={`/sends/chat-templates/${template.id}`}>
              Open the template
            </Link>
          </p>
        </div>
      )}
    </div>
  );
}
