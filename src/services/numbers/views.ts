import type { SenderNumberRow } from '@/db/numbers/entities';

export const senderView = (sender: SenderNumberRow) => ({
  id: sender.id,
  number: sender.number,
  kind: sender.kind,
  registration: sender.registration,
  mms: sender.mms,
  parts_per_second: sender.partsPerSecond,
  daily_cap: sender.dailyCap,
});
