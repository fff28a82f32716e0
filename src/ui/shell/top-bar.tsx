'use client';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { workspaceForm } from './workspace-form';
import { ChevronDown, Settings } from 'lucide-react';
import { Link } from '@/ui/kit/link';
import { usePathname, useRouter } from 'next/navigation';
import { useHotkeys } from 'react-hotkeys-hook';
import { openCommandBox } from './command-box';

const PLACES = [
  { href: '/', name: 'Today', key: 't' },
  { href: '/inbox', name: 'Inbox', key: 'i' },
  { href: '/sends', name: 'Sends', key: 's' },
  { href: '/people', name: 'People', key: 'p' },
  { href: '/programs', name: 'Programs', key: 'g' },
  { href: '/results', name: 'Results', key: 'r' },
] as const;

const BEHIND_THE_GEAR = [
  { href: '/numbers', name: 'Numbers' },
  { href: '/credits', name: 'Credits' },
  { href: '/team', name: 'Team' },
  { href: '/settings', name: 'Settings' },
  { href: '/settings/sign-in', name: 'Your sign-in' },
  { href: '/settings/audit', name: 'Audit' },
  { href: '/businesses', name: 'Businesses' },
  { href: '/developers', name: 'Developers' },
  { href: '/help', name: 'Help' },
] as const;

interface Actions {
  signOut: () => Promise<void>;
  signOutEverywhere: () => Promise<void>;
  switchWorkspace: (data: FormData) => Promise<void>;
  theme: (theme: 'light' | 'dark' | 'system') => Promise<void>;
}

interface Props {
  workspace: string;
  workspaceId: string;
  workspaces: { id: string; name: string }[];
  person: string;
  benchUrl: string | null;
  actions: Actions;
}

export function TopBar(props: Props) {
  const path = usePathname();
  const router = useRouter();
  useHotkeys(
    PLACES.map(({ key }) => key),
    (event) => {
      const place = PLACES.find(({ key }) => key === event.key);
      if (place) router.push(place.href);
    },
  );
  return (
    <header className="border-b border-ink">
      <div className="mx-auto flex max-w-(--page) flex-wrap items-center gap-x-3 gap-y-0.5 px-4 py-1.5 sm:gap-x-6 sm:px-6 sm:py-2">
        {props.workspaces.length > 1 ? (
          <Switch {...props} />
        ) : (
          <span className="min-w-0 flex-1 truncate font-head text-lg sm:flex-none">{props.workspace}</span>
        )}
        <nav
          aria-label="Places"
          className="order-last -mx-1 flex w-full gap-x-0.5 overflow-x-auto whitespace-nowrap sm:order-none sm:w-auto sm:flex-wrap sm:gap-x-1"
        >
          {PLACES.map(({ href, name, key }) => {
            const here = href === '/' ? path === '/' : path.startsWith(href);
            return (
              <Link
                key={href}
                href={href}
                aria-current={here ? 'page' : undefined}
                className={`px-1 py-1 min-[400px]:px-1.5 sm:px-2 ${here ? 'border-b-2 border-accent font-semibold' : 'hover:bg-paper-2'}`}
              >
                {name} <kbd className="key ml-0.5 hidden text-soft xl:inline">{key}</kbd>
              </Link>
            );
          })}
        </nav>
        <div className="ml-auto flex items-center gap-2">
          <button className="button py-1 text-soft" onClick={openCommandBox}>
            <span>
              Find<span className="hidden sm:inline"> or do</span>
            </span>
            <kbd className="key ml-1 hidden sm:inline">Ctrl K</kbd>
          </button>
          <Gear {...props} />
        </div>
      </div>
    </header>
  );
}

const ITEM = 'block w-full px-3 py-1.5 text-left data-focus:bg-paper-2';

/** From one business of an agency to another. */
function Switch({ workspace, workspaceId, workspaces, actions }: Props) {
  return (
    <Menu>
      <MenuButton className="min-w-0 flex-1 truncate text-left font-head text-lg sm:flex-none">
        {workspace} <ChevronDown size={16} aria-hidden="true" className="inline text-soft" />
      </MenuButton>
      <MenuItems
        anchor="bottom start"
        className="z-20 w-64 border border-ink bg-paper py-1 [--anchor-gap:6px] focus:outline-none"
      >
        {workspaces.map(({ id, name }) => (
          <MenuItem key={id} disabled={id === workspaceId}>
            <button
              className={`${ITEM} data-disabled:text-soft`}
              onClick={() => void actions.switchWorkspace(workspaceForm(id))}
            >
              {name}
              {id === workspaceId ? ' (here)' : ''}
            </button>
          </MenuItem>
        ))}
        <div className="my-1 border-t border-rule" />
        <MenuItem>
          <Link href="/businesses" className={ITEM}>
            What waits in all of them
          </Link>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}

function Gear({ person, benchUrl, actions }: Props) {
  return (
    <Menu>
      <MenuButton className="button px-2 py-1" aria-label="Settings and account">
        <Settings size={18} aria-hidden="true" />
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-20 w-60 border border-ink bg-paper py-1 [--anchor-gap:6px] focus:outline-none"
      >
        {BEHIND_THE_GEAR.map(({ href, name }) => (
          <MenuItem key={href}>
            <Link href={href} className={ITEM}>
              {name}
            </Link>
          </MenuItem>
        ))}
        {benchUrl && (
          <MenuItem>
            <a href={benchUrl} target="_blank" rel="noreferrer" className={ITEM}>
              Test bench
            </a>
          </MenuItem>
        )}
        <div className="my-1 border-t border-rule" />
        {(['light', 'dark', 'system'] as const).map((theme) => (
          <MenuItem key={theme}>
            <button className={ITEM} onClick={() => void actions.theme(theme).then(() => location.reload())}>
              {theme === 'system' ? 'Theme of the system' : `Theme: ${theme}`}
            </button>
          </MenuItem>
        ))}
        <div className="my-1 border-t border-rule" />
        <div className="px-3 py-1 text-sm text-soft">{person}</div>
        <MenuItem>
          <button className={ITEM} onClick={() => void actions.signOut()}>
            Sign out
          </button>
        </MenuItem>
        <MenuItem>
          <button className={ITEM} onClick={() => void actions.signOutEverywhere()}>
            Sign out everywhere
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
