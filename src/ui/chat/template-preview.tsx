import { piecesOf, type ChatWords } from '@/core/chat/template';

/** A template as it reads, with an example in place of each field; what can be pressed stands below it. */
export function TemplatePreview({
  words,
  samples,
}: {
  words: ChatWords;
  samples: Readonly<Record<string, string>>;
}) {
  const { pieces, variables } = piecesOf(words.body);
  const labelOf = (name: string) => variables.find((one) => one.name === name)?.label ?? name;
  return (
    <div className="border-l-2 border-rule pl-3 [overflow-wrap:anywhere]" data-preview="">
      {words.header && <p className="font-head text-lg">{words.header}</p>}
      <p className="whitespace-pre-wrap">
        {pieces.map((piece, i) =>
          'text' in piece ? (
            piece.text
          ) : (
            <mark
              key={i}
              className="bg-transparent text-inherit underline decoration-dotted underline-offset-4"
            >
              {samples[piece.variable] || `[${labelOf(piece.variable)}]`}
            </mark>
          ),
        )}
        {pieces.length === 0 && <span className="text-soft">Nothing is written yet.</span>}
      </p>
      {words.footer && <p className="mt-2 text-sm text-soft">{words.footer}</p>}
      {words.buttons.length > 0 && (
        <ul className="mt-2 border-t border-rule pt-2 text-sm" aria-label="Buttons">
          {words.buttons.map((button, i) => (
            <li key={i} className="py-0.5">
              <span aria-hidden="true">▸ </span>
              {button.words || '…'}{' '}
              <span className="text-soft">
                {button.kind === 'reply' && (button.leaves ? 'leaves' : 'answers with these words')}
                {button.kind === 'link' && `opens ${button.url}`}
                {button.kind === 'call' && `calls ${button.number}`}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
