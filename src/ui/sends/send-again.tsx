import { PlainForm } from '@/ui/kit/plain-form';
import { Section } from '@/ui/kit/page';
import type { FormState } from '@/ui/kit/form-state';
import { plural } from '@/ui/kit/numbers';
import { dayAndTime } from '@/ui/kit/time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface Props {
  id: string;
  zone: string;
  /** Addresses that show its result now. */
  shares: { id: string; endsAt: Date }[];
  copy: Act;
  share: Act;
  endShares: Act;
}

const COPIES = [
  ['same', 'Copy as a new draft'],
  ['not-got', 'For those who did not get it'],
  ['not-answered', 'For those who did not answer'],
] as const;

/** What follows a broadcast: another like it, its people as a file, its result for others. */
export function SendAgain({ id, zone, shares, copy, share, endShares }: Props) {
  return (
    <>
      <Section title="Another like it">
        {COPIES.map(([whom, words]) => (
          <div key={whom} className="mb-2">
            <PlainForm action={copy} submit={words} hidden={{ broadcast: id, whom }} />
          </div>
        ))}
      </Section>
      <Section title="As a file">
        <p className="flex gap-4">
          {['csv', 'xlsx', 'json'].map((format) => (
            <a key={format} className="link" href={`/sends/${id}/export?format=${format}`} download>
              {format.toUpperCase()}
            </a>
          ))}
        </p>
        <p className="text-sm text-soft">everybody of it and what became of it</p>
      </Section>
      <Section title="For somebody without an account">
        {shares.length > 0 && (
          <>
            <p className="text-sm">
              {plural(shares.length, 'address shows', 'addresses show')} this result, until{' '}
              {dayAndTime(shares[shares.length - 1]!.endsAt, zone)}.
            </p>
            <PlainForm action={endShares} submit="End them all" hidden={{ broadcast: id }} />
          </>
        )}
        <PlainForm
          action={share}
          submit="Make an address"
          hidden={{ broadcast: id }}
          fields={[
            {
              name: 'days',
              label: 'It ends after',
              options: [
                { value: '7', label: 'a week' },
                { value: '30', label: 'thirty days' },
                { value: '90', label: 'ninety days' },
              ],
              hint: 'It shows counts and words, nothing of any person.',
            },
          ]}
        />
      </Section>
    </>
  );
}
