import { missing, stepsOf, type Step } from '@/core/access/moving-in';
import type { DutyHours } from '@/core/inquiry/on-duty';
import { Membership } from '@/db/access/entities';
import { houseOf, teamRows, type TeamRow } from '@/db/access/team';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { openInvitations } from './invitations';
import { ownedBy, type Owns } from './members';

export interface MovingIn {
  steps: Step[];
  /** How many the first text still needs. */
  missing: number;
  /** Numbers whose registration is not through. */
  waiting: number;
}

export async function readMovingIn(scope: Scope): Promise<MovingIn> {
  const house = await houseOf(scope);
  const steps = stepsOf(house);
  return { steps, missing: missing(steps).length, waiting: house.waiting };
}

export interface TeamScreen {
  team: (TeamRow & {
    owns: Owns[];
    duty: DutyHours[];
    awayUntil: Date | null;
    mailed: boolean;
    texted: boolean;
    mailThreads: boolean;
    textThreads: boolean;
    takesCalls: boolean;
  })[];
  invitations: { id: string; name: string; email: string; role: string; until: Date }[];
}

export async function readTeamScreen(ctx: Context, scope: Scope): Promise<TeamScreen> {
  const team: TeamScreen['team'] = [];
  const members = new Map((await scope.em.find(Membership, {})).map((one) => [one.accountId, one]));
  for (const row of await teamRows(scope)) {
    const member = members.get(row.account_id)!;
    const { duty, awayUntil, mailInquiries: mailed, textInquiries: texted } = member;
    const { mailThreads, textThreads, takesCalls } = member;
    team.push({
      ...row,
      owns: await ownedBy(ctx, scope, row.account_id),
      duty,
      awayUntil,
      mailed,
      texted,
      mailThreads,
      textThreads,
      takesCalls,
    });
  }
  return {
    team,
    invitations: (await openInvitations(ctx, scope)).map(({ id, name, email, role, expiresAt }) => ({
      ...{ id, name, email, role },
      until: expiresAt,
    })),
  };
}
