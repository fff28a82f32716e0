'use client';
import type { ChatLimits } from '@/core/chat/network';
import type { Button } from '@/core/chat/template';

const NEW: Record<Button['kind'], Button> = {
  reply: { kind: 'reply', words: '' },
  link: { kind: 'link', words: '', url: 'https://' },
  call: { kind: 'call', words: '', number: '' },
};

const ADDS: Record<Button['kind'], string> = {
  reply: 'A button that answers',
  link: 'One that opens a page',
  call: 'One that calls',
};

const of = (buttons: readonly Button[], kind: Button['kind']) =>
  buttons.filter((button) => button.kind === kind).length;

/** What can be pressed under a message, as many as the network takes. */
export function ButtonFields({
  buttons,
  set,
  limits,
}: {
  buttons: readonly Button[];
  set(buttons: Button[]): void;
  limits: ChatLimits;
}) {
  const most: Record<Button['kind'], number> = {
    ...{ reply: limits.quickReplies, link: limits.links, call: limits.calls },
  };
  const change = (at: number, button: Button) => set(buttons.map((one, i) => (i === at ? button : one)));
  const leaves = buttons.some((button) => button.kind === 'reply' && button.leaves);
  return (
    <fieldset className="mt-4">
      <legend className="mb-1 text-sm text-soft">Buttons</legend>
      <ul>
        {buttons.map((button, i) => (
          <li key={i} className="mb-2 flex flex-wrap items-end gap-2">
            <label className="text-sm">
              <span className="mb-0.5 block text-soft">{BUTTON_WORDS[button.kind]}</span>
              <input
                className="input w-44!"
                value={button.words}
                maxLength={60}
                onChange={({ target }) => change(i, { ...button, words: target.value })}
              />
            </label>
            {button.kind === 'reply' && (
              <label className="flex items-center gap-1.5 pb-1.5 text-sm">
                <input
                  type="checkbox"
                  checked={button.leaves ?? false}
                  onChange={({ target }) => {
                    const { leaves: _, ...rest } = button;
                    change(i, target.checked ? { ...rest, leaves: true } : rest);
                  }}
                />
                pressing it opts out
              </label>
            )}
            {button.kind === 'link' && (
              <label className="min-w-0 flex-1 text-sm">
                <span className="mb-0.5 block text-soft">Address</span>
                <input
                  className="input"
                  value={button.url}
                  onChange={({ target }) => change(i, { ...button, url: target.value })}
                />
              </label>
            )}
            {button.kind === 'call' && (
              <label className="text-sm">
                <span className="mb-0.5 block text-soft">Number, with its country</span>
                <input
                  className="input"
                  value={button.number}
                  onChange={({ target }) => change(i, { ...button, number: target.value })}
                />
              </label>
            )}
            <button
              type="button"
              className="link pb-1.5 text-sm"
              aria-label={`Take out ${button.words || 'the button'}`}
              onClick={() => set(buttons.filter((_, at) => at !== i))}
            >
              Take out
            </button>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-2">
        {(['reply', 'link', 'call'] as const).map((kind) => (
          <button
            key={kind}
            type="button"
            className="button px-2 py-0.5 text-sm"
            disabled={of(buttons, kind) >= most[kind]}
            onClick={() => set([...buttons, { ...NEW[kind] }])}
          >
            {ADDS[kind]}
          </button>
        ))}
        {!leaves && (
          <button
            type="button"
            className="button px-2 py-0.5 text-sm"
            disabled={of(buttons, 'reply') >= most.reply}
            onClick={() => set([...buttons, { kind: 'reply', words: 'Stop these', leaves: true }])}
          >
            The one that leaves
          </button>
        )}
      </div>
    </fieldset>
  );
}

const BUTTON_WORDS: Record<Button['kind'], string> = {
  reply: 'Answers with',
  link: 'Opens a page',
  call: 'Calls',
};
