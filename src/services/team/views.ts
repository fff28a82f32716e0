import { SHIPPED_LIMITS } from '@/core/broadcast/limits';
import { SHIPPED_RULES } from '@/core/clearance/rules';
import type { Invitation, Workspace } from '@/db/access/entities';
import { iso } from '@/services/kit/views';

export const invitationView = ({ id, email, name, role, createdAt, expiresAt, revokedAt }: Invitation) => ({
  ...{ id, email, name, role },
  ...{ created_at: iso(createdAt), expires_at: iso(expiresAt), revoked_at: iso(revokedAt) },
});

export const workspaceView = (workspace: Workspace) => ({
  ...{ id: workspace.id, name: workspace.name, business: workspace.business, contact: workspace.contact },
  ...{ country: workspace.country, zone: workspace.zone, weekly_cap: workspace.weeklyCap },
  ...{ asks_near_misses: workspace.asksNearMisses, terms_url: workspace.termsUrl },
  ...{ privacy_url: workspace.privacyUrl, link_base: workspace.linkBase },
  ...{ credits_per_part: workspace.creditsPerPart, credits_per_picture: workspace.creditsPerPicture },
  ...{ credits: workspace.creditBalance, stamp: workspace.stamp },
});

/** How a workspace has its wordings checked. */
export const wordingView = ({ wording, stamp }: Workspace) => ({
  ...{ business_kind: wording.kind, hosts: wording.hosts, weights: wording.weights, stamp },
});

export const rulesView = ({ rules }: Workspace) => {
  const { name, date, federal, states } = rules ?? SHIPPED_RULES;
  return { name, date, everywhere: federal, states };
};

/** In shares of a hundred people. */
export const limitsView = ({ sendLimits, stamp }: Workspace) => {
  const limits = sendLimits ?? SHIPPED_LIMITS;
  const percent = (share: number | null) => (share === null ? null : Number((share * 100).toFixed(2)));
  return {
    stamp,
    opt_outs: percent(limits['opt-outs']),
    ...{ spam: percent(limits.spam), failures: percent(limits.failures) },
  };
};
