import { Mark } from '@/ui/kit/mark';

export const EndpointMark = ({ state }: { state: 'on' | 'off' }) =>
  state === 'on' ? <Mark tone="good">on</Mark> : <Mark tone="plain">off: what happens waits</Mark>;

/** What became of a delivery. */
export function DeliveryMark({ arrived, aside, tries }: { arrived: boolean; aside: boolean; tries: number }) {
  if (arrived) return <Mark tone="good">arrived</Mark>;
  if (aside) return <Mark tone="bad">set aside after {tries} tries</Mark>;
  return <Mark tone="wait">{tries === 0 ? 'waits' : `waits for try ${tries + 1}`}</Mark>;
}
