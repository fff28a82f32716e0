import { ChoiceLink } from '@/ui/kit/choice-link';
import { Link } from '@/ui/kit/link';
import { BOXES, WAITS_WHY, WHY, type Box } from '@/core/inbox/waiting';
import { CHANNELS, CHANNEL_WORDS } from '@/core/message/channel';

/** What is looked at: a box, narrowed down, or words that are searched for. */
export interface InboxLook {
  box: Box;
  filters: Partial<Record<'program' | 'channel' | 'sender' | 'source' | 'why', string | null>>;
  words: string;
}

const NAMES: Record<Box, string> = {
  ...{ mine: 'Yours', nobody: 'Nobody’s', team: 'Everybody’s', later: 'Put off', done: 'Done this week' },
};

export function boxHref({ box, filters }: Pick<InboxLook, 'box' | 'filters'>, page = 0): string {
  const query = new URLSearchParams({ box });
  for (const [name, value] of Object.entries(filters)) if (value) query.set(name, value);
  if (page > 0) query.set('page', String(page));
  return `/inbox?${query.toString()}`;
}

/** The boxes with how many each holds, and the search over all that was typed. */
export function BoxLinks({
  look,
  counts,
}: {
  look: InboxLook;
  counts: { mine: number; nobody: number; team: number; later: number };
}) {
  return (
    <div className="mb-4 flex flex-wrap items-center justify-between gap-x-6 gap-y-2">
      <nav aria-label="Boxes" className="flex flex-wrap gap-x-5 gap-y-1">
        {BOXES.map((box) => (
          <ChoiceLink
            key={box}
            href={boxHref({ box, filters: look.filters })}
            isOn={look.words === '' && box === look.box}
            {...(box === 'done' ? {} : { n: counts[box] })}
          >
            {NAMES[box]}
          </ChoiceLink>
        ))}
      </nav>
      <form action="/inbox" role="search" className="flex gap-2">
        <input
          type="search"
          name="q"
          defaultValue={look.words}
          aria-label="Words in threads"
          placeholder="Words that were written"
          className="input"
          maxLength={200}
        />
        <button className="button">Find</button>
      </form>
    </div>
  );
}

interface Option {
  value: string;
  label: string;
}

/** By what the box is narrowed down; kept in the address, so that it can be handed on. */
export function Narrowing({
  look,
  programs,
  numbers,
  sources,
}: {
  look: InboxLook;
  programs: readonly Option[];
  numbers: readonly Option[];
  sources: readonly Option[];
}) {
  const fields: { name: keyof InboxLook['filters']; label: string; options: readonly Option[] }[] = [
    { name: 'why', label: 'Why', options: WAITS_WHY.map((why) => ({ value: why, label: WHY[why].word })) },
    { name: 'program', label: 'Program', options: programs },
    {
      ...{ name: 'channel' as const, label: 'Channel' },
      options: CHANNELS.filter((one) => one !== 'voicemail').map((one) => ({
        ...{ value: one, label: CHANNEL_WORDS[one].message },
      })),
    },
    { name: 'sender', label: 'Number', options: numbers },
    { name: 'source', label: 'Source', options: sources },
  ];
  const chosen = Object.values(look.filters).filter(Boolean).length;
  return (
    <details className="mb-5" open={chosen > 0}>
      <summary className="cursor-pointer">Narrow down{chosen > 0 && ` (${chosen})`} …</summary>
      <form action="/inbox" className="mt-2 border-l border-rule pl-3">
        <input type="hidden" name="box" value={look.box} />
        {fields
          .filter(({ options }) => options.length > 0)
          .map(({ name, label, options }) => (
            <label key={name} className="mb-2 block text-sm text-soft">
              {label}
              <select name={name} defaultValue={look.filters[name] ?? ''} className="input text-ink">
                <option value="">any</option>
                {options.map(({ value, label: words }) => (
                  <option key={value} value={value}>
                    {words}
                  </option>
                ))}
              </select>
            </label>
          ))}
        <button className="button">Show</button>
        {chosen > 0 && (
          <Link className="link ml-3" href={boxHref({ box: look.box, filters: {} })}>
            Show all
          </Link>
        )}
      </form>
    </details>
  );
}
