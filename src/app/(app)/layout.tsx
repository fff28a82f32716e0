import { redirect } from 'next/navigation';
import { may } from '@/core/access/roles';
import { clockIsMoved, linkIsUp } from '@/services/health';
import { HELD_WORDS, readMissed } from '@/services/delivery/installation';
import { getContext } from '@/services/runtime';
import { newestNotice } from '@/services/inbox/notices';
import { newsOf } from '@/ui/today/notice-list';
import { readRibbon } from '@/services/shell/screen';
import { benchUrl } from '@/services/kit/settings';
import { withWorkspace } from '@/services/runtime';
import { CommandBox } from '@/ui/shell/command-box';
import { DayRibbon } from '@/ui/shell/day-ribbon';
import { HoldBanner } from '@/ui/shell/hold-banner';
import { FocusKeeper } from '@/ui/shell/focus-keeper';
import { BrowserNotice } from '@/ui/shell/browser-notice';
import { LiveRefresh } from '@/ui/shell/live-refresh';
import { TopBar } from '@/ui/shell/top-bar';
import { requireSession, standing } from '../session';
import { releaseAction } from './stuck-actions';
import {
  signOutAction,
  signOutEverywhereAction,
  switchWorkspaceAction,
  themeAction,
} from '../sign-in/actions';

export default async function AppLayout({ children }: { children: React.ReactNode }) {
  const session = await requireSession();
  if (!may(session.role, 'read')) redirect('/counter');
  const ctx = await getContext();
  const at = ctx.now();
  const missed = await readMissed(ctx);
  const { ribbon, newest } = await withWorkspace(session.workspaceId, async (scope) => ({
    ribbon: await readRibbon(scope, at),
    newest: await newestNotice(scope, session.accountId),
  }));
  const bench = benchUrl();
  return (
    <>
      <TopBar
        workspace={session.workspaceName}
        workspaceId={session.workspaceId}
        workspaces={session.workspaces}
        person={session.name}
        benchUrl={bench ? bench.replace('127.0.0.1', 'localhost') : null}
        actions={{
          signOut: signOutAction,
          signOutEverywhere: signOutEverywhereAction,
          switchWorkspace: switchWorkspaceAction,
          theme: themeAction,
        }}
      />
      <DayRibbon
        ribbon={ribbon}
        zone={session.workspaceZone}
        moved={await clockIsMoved()}
        linkUp={await linkIsUp()}
      />
      {missed && (
        <HoldBanner
          words={HELD_WORDS[missed.hold.because]}
          awaySince={missed.hold.awaySince}
          due={missed.due.filter((row) => row.workspace_id === session.workspaceId)}
          zone={session.workspaceZone}
          {...(missed.hold.because === 'gap' && may(session.role, 'manage-team')
            ? { release: releaseAction }
            : {})}
        />
      )}
      {children}
      <CommandBox
        elsewhere={session.workspaces.filter(({ id }) => id !== session.workspaceId)}
        switchTo={switchWorkspaceAction}
      />
      <LiveRefresh mark={await standing(session.workspaceId)} />
      <BrowserNotice news={newest && newsOf(newest)} />
      <FocusKeeper />
    </>
  );
}
