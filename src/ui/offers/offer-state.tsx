import { Mark } from '@/ui/kit/mark';

/** Whether vouchers of an offer can be had now. */
export function OfferState({
  offer,
  now,
}: {
  offer: {
    archivedAt: Date | null;
    fromAt: Date | null;
    toAt: Date | null;
    most: number | null;
    made: number;
  };
  now: number;
}) {
  if (offer.archivedAt) return <Mark tone="bad">ended</Mark>;
  if (offer.toAt && offer.toAt.getTime() <= now) return <Mark tone="plain">over</Mark>;
  if (offer.fromAt && offer.fromAt.getTime() > now) return <Mark tone="wait">not yet</Mark>;
  if (offer.most !== null && offer.made >= offer.most) return <Mark tone="wait">all given</Mark>;
  return <Mark tone="good">stands</Mark>;
}
