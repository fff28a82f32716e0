import type { Scope } from '@/db/kit/scope';

/** Vouchers go to whoever is kept, except of offers of which they have one: that of the other stays as it is. */
export const moveVouchers = async (
  scope: Scope,
  { keptId, goneId }: { keptId: string; goneId: string },
): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `update voucher g set person_id = :keptId where g.workspace_id = :workspace and g.person_id = :goneId
          and not exists (select 1 from voucher k where k.person_id = :keptId and k.offer_id = g.offer_id) returning g.id`,
      { keptId, goneId },
    )
  ).map(({ id }) => id);

/** What moved comes back, except of offers of which they have a new one. */
export const giveBackVouchers = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update voucher v set person_id = :goneId where v.workspace_id = :workspace and v.id = any(:ids::text[])
        and not exists (select 1 from voucher g where g.person_id = :goneId and g.offer_id = v.offer_id)`,
    { goneId, ids },
  );
