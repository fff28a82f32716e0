import { count } from './numbers';

/** How far something is, drawn and in words. */
export function Progress({ value, of, label }: { value: number; of: number; label: string }) {
  const share = of === 0 ? 0 : Math.min(1, value / of);
  return (
    <div className="mb-5">
      <div
        role="progressbar"
        aria-label={`${count(value)} of ${count(of)} ${label}`}
        aria-valuemin={0}
        aria-valuemax={of}
        aria-valuenow={value}
        className="h-2 border border-soft"
      >
        <div className="h-full bg-accent" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="mt-1 text-sm text-soft">
        {count(value)} of {count(of)} {label}
      </p>
    </div>
  );
}
