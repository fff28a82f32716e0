'use client';
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
} from '@headlessui/react';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { HELP } from '@/ui/help/pages';
import { workspaceForm } from './workspace-form';

interface Command {
  label: string;
  kind: string;
  href: string;
}

const FIXED: Command[] = [
  { label: 'Write a broadcast', kind: 'do', href: '/sends/new' },
  { label: 'Record a voice message', kind: 'do', href: '/sends/voice-messages/new' },
  { label: 'Drop a voicemail', kind: 'do', href: '/sends/new?channel=voicemail' },
  { label: 'Add a person', kind: 'do', href: '/people/new' },
  { label: 'Make a program', kind: 'do', href: '/programs/new' },
  { label: 'Import people from a file', kind: 'do', href: '/people/imports' },
  { label: 'Scan a card', kind: 'do', href: '/people/scan' },
  { label: 'Look for duplicates', kind: 'do', href: '/people/duplicates' },
  { label: 'Find a sender number', kind: 'do', href: '/numbers/find' },
  { label: 'Fields of your own', kind: 'go to', href: '/people/fields' },
  { label: 'Voice messages', kind: 'go to', href: '/sends/voice-messages' },
  { label: 'Calls to make', kind: 'go to', href: '/inbox/calls' },
  { label: 'Outcomes of calls', kind: 'go to', href: '/inbox/calls/outcomes' },
  { label: 'How soon people are answered, and while you are away', kind: 'go to', href: '/inbox/replies' },
  { label: 'Calendar of sends', kind: 'go to', href: '/sends/calendar' },
  { label: 'Credits: buy, what is left, what was spent', kind: 'go to', href: '/credits' },
  { label: 'Registration with the carriers', kind: 'go to', href: '/numbers/registration' },
  { label: 'Registration of the business', kind: 'go to', href: '/numbers/registration/brand' },
  { label: 'Batches', kind: 'go to', href: '/people/batches' },
  { label: 'Templates', kind: 'go to', href: '/sends/templates' },
  { label: 'Chat templates', kind: 'go to', href: '/sends/chat-templates' },
  { label: 'Things to write about', kind: 'go to', href: '/sends/items' },
  { label: 'Sequences', kind: 'go to', href: '/programs/sequences' },
  { label: 'Begin a sequence', kind: 'do', href: '/programs/sequences/new' },
  { label: 'Forms', kind: 'go to', href: '/programs/forms' },
  { label: 'Inquiries and their sources', kind: 'go to', href: '/programs/inquiries' },
  { label: 'Offers', kind: 'go to', href: '/programs/offers' },
  { label: 'Tasks', kind: 'go to', href: '/tasks' },
  { label: 'What works', kind: 'go to', href: '/results/works' },
  { label: 'Who stays', kind: 'go to', href: '/results/keeping' },
  { label: 'How soon', kind: 'go to', href: '/results/speed' },
  { label: 'Reports', kind: 'go to', href: '/results/reports' },
  { label: 'Moving in: what is missing', kind: 'go to', href: '/moving-in' },
  { label: 'Your sign-in: browsers, second factor', kind: 'go to', href: '/settings/sign-in' },
  { label: 'Old messages: what is put away', kind: 'go to', href: '/settings/put-away' },
  { label: 'Audit: who did what', kind: 'go to', href: '/settings/audit' },
  ...[
    'Today',
    'Inbox',
    'Sends',
    'People',
    'Programs',
    'Results',
    'Numbers',
    'Team',
    'Settings',
    'Developers',
    'Businesses',
    'Help',
  ].map((name) => ({
    label: name,
    kind: 'go to',
    href: name === 'Today' ? '/' : `/${name.toLowerCase()}`,
  })),
];

/** Pages of help by the words they explain: for who asks for help, or types what is no place and nothing to do. */
const EXPLAINED: Command[] = HELP.map(({ place, title, words }) => ({
  label: `Help, ${title}: ${words.map(([word]) => word).join(', ')}`,
  kind: 'help',
  href: `/help/${place}`,
}));

const OPEN = 'wren:command-box';

/** Every word that is typed begins one of the label's, in whatever order. */
const isMeant = (label: string, typed: string): boolean => {
  const words = label.toLowerCase().split(/[^\p{L}\p{N}]+/u);
  return typed
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((part) => words.some((word) => word.startsWith(part)));
};

const WRITE = 'Write to';
const LEAVE = 'Opt out or pause';

/** What may be typed before a name, and what is then done with whoever has it. */
const VERBS: Record<string, string> = {
  ...{ 'write to': WRITE, text: WRITE, answer: WRITE },
  ...{ 'opt out': LEAVE, pause: LEAVE, stop: LEAVE },
};

const WITH_VERB = new RegExp(`^\\s*(${Object.keys(VERBS).join('|')})\\s+(.+)$`, 'i');

/** “write to ana” looks for Ana. */
function verbOf(typed: string): { done: string | null; name: string } {
  const [, verb = '', name = typed] = WITH_VERB.exec(typed) ?? [];
  return { done: VERBS[verb.toLowerCase()] ?? null, name };
}

/** Where something found is, and for somebody what else can be done. */
function waysTo(found: Command): Command[] {
  const { kind, label, href } = found;
  if (kind !== 'person') return [found];
  const thread = href.replace('/people/', '/inbox/');
  return [
    found,
    { kind: 'do', label: `${WRITE} ${label}`, href: thread },
    { kind: 'do', label: `${LEAVE} ${label}`, href: `${thread}#leave` },
  ];
}

const businessHref = (id: string): string => `#business-${id}`;

export const openCommandBox = (): void => void window.dispatchEvent(new Event(OPEN));

interface Props {
  /** The other businesses of whoever is signed in. */
  elsewhere?: readonly { id: string; name: string }[];
  switchTo?(data: FormData): Promise<void>;
}

/** Reaches everything by typing: places, things to do, people, broadcasts, programs, other businesses. */
export function CommandBox({ elsewhere = [], switchTo }: Props) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const [found, setFound] = useState<Command[]>([]);
  const router = useRouter();
  useHotkeys('mod+k', (event) => (event.preventDefault(), setOpen(true)), {
    enableOnFormTags: true,
    enableOnContentEditable: true,
  });
  useEffect(() => {
    const show = () => setOpen(true);
    window.addEventListener(OPEN, show);
    return () => window.removeEventListener(OPEN, show);
  }, []);
  useEffect(() => {
    if (typed.trim().length < 2) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      fetch(`/internal/find?q=${encodeURIComponent(verbOf(typed).name)}`, { signal: abort.signal })
        .then((response) => response.json() as Promise<Command[]>)
        .then((rows) => setFound(rows.flatMap(waysTo)))
        .catch(() => {});
    }, 120);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [typed]);
  const close = () => {
    setOpen(false);
    setTyped('');
    setFound([]);
  };
  const go = (command: Command | null) => {
    if (!command) return;
    close();
    const business = elsewhere.find(({ id }) => command.href === businessHref(id));
    if (business && switchTo) void switchTo(workspaceForm(business.id));
    else router.push(command.href);
  };
  const businesses = elsewhere.map(({ id, name }) => ({
    label: name,
    kind: 'business',
    href: businessHref(id),
  }));
  const fixed = [...FIXED, ...businesses].filter(({ label }) => isMeant(label, typed));
  const help =
    typed.trim().length > 1 && (fixed.length === 0 || isMeant('help', typed.trim().split(/\s+/)[0]!))
      ? EXPLAINED.filter(({ label }) => isMeant(label, typed))
      : [];
  // What is done with somebody stands first where that was typed.
  const { done } = verbOf(typed);
  const asked = typed.trim().length < 2 ? [] : found;
  const wanted = asked.filter(({ label }) => done !== null && label.startsWith(done));
  const commands = [...wanted, ...fixed, ...asked.filter((one) => !wanted.includes(one)), ...help];
  return (
    <Dialog open={open} onClose={close} className="relative z-30" aria-label="Find or do">
      <div className="fixed inset-0 bg-scrim" aria-hidden="true" />
      <div className="fixed inset-0 flex justify-center p-4 pt-[12vh]">
        <DialogPanel className="h-fit w-full max-w-xl border border-ink bg-paper">
          <Combobox<Command> immediate onChange={go}>
            <ComboboxInput
              autoFocus
              aria-label="Find or do"
              placeholder="A person, a broadcast, a place …"
              className="w-full border-b border-rule bg-transparent px-4 py-3"
              onChange={(event) => setTyped(event.target.value)}
              onKeyDown={(event) => event.key === 'Escape' && close()}
            />
            <ComboboxOptions static className="max-h-80 overflow-y-auto py-1" aria-label="Matches">
              {commands.map((command, i) => (
                <ComboboxOption
                  // With each letter the highlight begins anew at the first: what Enter takes is what stands there now.
                  key={`${typed} ${i} ${command.href}`}
                  value={command}
                  className="flex justify-between gap-4 px-4 py-1.5 data-focus:bg-paper-2"
                >
                  <span>{command.label}</span>
                  <span className="text-sm text-soft">{command.kind}</span>
                </ComboboxOption>
              ))}
            </ComboboxOptions>
            {commands.length === 0 && <p className="px-4 py-3 text-soft">Nothing by that name.</p>}
          </Combobox>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
