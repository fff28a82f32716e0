import type { CarrierRow } from '@/db/delivery/entities';
import type { SenderNumberRow } from '@/db/numbers/entities';

export const senderView = (sender: SenderNumberRow) => ({
  id: sender.id,
  number: sender.number,
  kind: sender.kind,
  registration: sender.registration,
  mms: sender.mms,
  parts_per_second: sender.partsPerSecond,
  daily_cap: sender.dailyCap,
  carrier: sender.carrierId,
});

/** Without its password, which is never shown. */
export const carrierView = ({ id, name, host, port, systemId, profile }: CarrierRow) => ({
  ...{ id, name, host, port, system_id: systemId, profile },
});
