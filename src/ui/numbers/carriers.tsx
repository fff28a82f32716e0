import { LINK_WORDS, sightWords, type LinkSights, type LinkState } from '@/core/delivery/link';
import { displayNumber } from '@/core/phone/number';
import type { FormState } from '@/ui/kit/form-state';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { CarrierChecker } from './carrier-check';
import { CarrierForm, type EditedCarrier, type ShippedProfile } from './carrier-forms';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export interface ShownCarrier {
  id: string;
  name: string;
  /** Of the workspace's own: what can be changed. */
  edited: EditedCarrier | null;
  links: { state: LinkState; why: string | null; sights: LinkSights | null }[];
  senders: { id: string; number: string }[];
}

export interface CarrierActs {
  enter: Act;
  change: Act;
  remove: Act;
  check(id: string): Promise<{ steps: { good: boolean; words: string }[] } | string>;
}

/** The carriers texts go over: how their links stand, what came over them, and their settings. */
export function Carriers({
  carriers,
  shipped,
  acts,
}: {
  carriers: readonly ShownCarrier[];
  shipped: readonly ShippedProfile[];
  /** Null: this teammate may look only. */
  acts: CarrierActs | null;
}) {
  return (
    <Section title="Carriers">
      <p className="mb-2 text-soft">
        A number belongs to one carrier. When one is away, only the texts of its own numbers wait.
      </p>
      <ul>
        {carriers.map((carrier) => (
          <li key={carrier.id} className="border-b border-rule py-1.5">
            <details>
              <summary className="cursor-pointer">
                {carrier.name}{' '}
                <span className="text-sm">
                  <LinkMark links={carrier.links} />{' '}
                  <span className="text-soft">
                    {'· '}
                    {carrier.senders.length === 0
                      ? 'no number belongs to it'
                      : plural(carrier.senders.length, 'number', 'numbers')}
                  </span>
                </span>
              </summary>
              <div className="grid gap-x-10 gap-y-3 py-3 sm:grid-cols-2">
                <Seen carrier={carrier} />
                {carrier.edited && acts ? (
                  <Edit edited={carrier.edited} shipped={shipped} acts={acts} />
                ) : (
                  <p className="text-sm text-soft">
                    Its host, credentials and profile stand in the settings of the installation: any workspace
                    may use it, and who runs the machine changes it.
                  </p>
                )}
              </div>
            </details>
          </li>
        ))}
        {acts && (
          <li className="py-1.5">
            <details>
              <summary className="cursor-pointer">Enter another carrier</summary>
              <div className="max-w-xl py-3">
                <CarrierForm action={acts.enter} shipped={shipped} />
              </div>
            </details>
          </li>
        )}
      </ul>
    </Section>
  );
}

function LinkMark({ links }: { links: ShownCarrier['links'] }) {
  if (links.length === 0) return <Mark tone="wait">no worker is running</Mark>;
  const up = links.filter(({ state }) => state === 'up').length;
  const worst = links.find(({ state }) => state === 'refused') ?? links.find(({ state }) => state !== 'up');
  if (!worst) return <Mark tone="good">{LINK_WORDS.up}</Mark>;
  if (up > 0) return <Mark tone="wait">{`${up} of ${links.length} links are up`}</Mark>;
  return <Mark tone={worst.state === 'binding' ? 'wait' : 'bad'}>{LINK_WORDS[worst.state]}</Mark>;
}

/** What its links say, and what came over them. */
function Seen({ carrier: { links, senders } }: { carrier: ShownCarrier }) {
  const whys = [...new Set(links.flatMap(({ why }) => (why ? [why] : [])))];
  const seen = sightWords(links.flatMap(({ sights }) => (sights ? [sights] : [])));
  return (
    <div className="text-sm">
      {whys.map((why) => (
        <p key={why} className="mb-1 text-bad">
          ✕ {why}
        </p>
      ))}
      {senders.length > 0 && (
        <p className="mb-1">Carries {senders.map(({ number }) => displayNumber(number)).join(', ')}.</p>
      )}
      {seen.length === 0 ? (
        <p className="text-soft">Nothing has come over it since its links were made.</p>
      ) : (
        <>
          <p className="text-soft">Since its links were made:</p>
          <ul>
            {seen.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function Edit({
  edited,
  shipped,
  acts,
}: {
  edited: EditedCarrier;
  shipped: readonly ShippedProfile[];
  acts: CarrierActs;
}) {
  return (
    <div>
      <CarrierChecker act={acts.check.bind(null, edited.id)} />
      <CarrierForm key={JSON.stringify(edited)} action={acts.change} carrier={edited} shipped={shipped} />
      <div className="mt-3">
        <PlainForm action={acts.remove} submit="Take it away" hidden={{ carrier: edited.id }} />
      </div>
    </div>
  );
}
