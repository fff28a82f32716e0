import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

/** What every new draft begins as. */
export function freshBroadcast(ctx: Context, scope: Scope, createdBy: string | null) {
  const at = new Date(ctx.now());
  return {
    ...{ id: ctx.id('brc'), workspaceId: scope.workspaceId, state: 'draft' as const },
    ...{ sendAt: null, begunAt: null, finishedAt: null, cursor: '' },
    ...{
      chosen: null,
      held: null,
      waived: [],
      repeat: null,
      seriesId: null,
      templateId: null,
      chatTemplateId: null,
      recordingId: null,
      media: null,
      instead: null,
      companion: null,
      companionOf: null,
    },
    ...{ createdBy, createdAt: at, updatedAt: at },
  };
}
