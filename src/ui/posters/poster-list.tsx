import { Link } from '@/ui/kit/link';
import { SHEETS, type PosterDocument } from '@/core/poster/document';
import type { FormState } from '@/ui/kit/form-state';
import { Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';

interface Props {
  posters: { id: string; document: PosterDocument }[];
  /** What a new one is of: `keyword` or `form`, with its id. */
  of: Record<string, string>;
  mayEdit: boolean;
  create(state: FormState, data: FormData): Promise<FormState>;
}

/** The posters of a keyword or a form. */
export function PosterList({ posters, of, mayEdit, create }: Props) {
  return (
    <Section title="Posters">
      {posters.length === 0 && (
        <p className="mb-2 text-sm text-soft">None yet: on paper, a card, a screen.</p>
      )}
      <ul className="mb-2 text-sm">
        {posters.map(({ id, document }) => (
          <li key={id} className="flex justify-between gap-3 border-b border-rule py-0.5">
            <Link className="link min-w-0 break-words" href={`/programs/posters/${id}`}>
              {document.headline}
            </Link>
            <span className="text-soft">{SHEETS[document.sheet].words}</span>
          </li>
        ))}
      </ul>
      {mayEdit && <PlainForm action={create} submit="Make a poster" hidden={of} />}
    </Section>
  );
}
