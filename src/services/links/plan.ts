import type { LinkChoice, LinkPlan } from '@/core/link/shorten';
import type { Workspace } from '@/db/access/entities';
import { publicUrl } from '@/services/kit/settings';

/** What short addresses of a workspace begin with: on its own host where one is set. */
export const linkBase = ({ linkBase: own }: Pick<Workspace, 'linkBase'>): string =>
  `${(own ?? publicUrl()).replace(/\/+$/, '')}/l/`;

export const linkPlan = (
  workspace: Pick<Workspace, 'linkBase'>,
  choice: LinkChoice,
  campaign: string,
): LinkPlan => ({ ...choice, base: linkBase(workspace), campaign });
