'use client';
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

interface Span {
  /** ISO weekdays, 1 is Monday. */
  days: number[];
  from: string;
  to: string;
}

/** Days of the week, and the hours from and to on them. */
export function SpanOfHours({ span, set }: { span: Span; set(part: Partial<Span>): void }) {
  return (
    <>
      {DAYS.map((day, i) => (
        <label key={day} className="flex items-center gap-1 text-sm">
          <input
            type="checkbox"
            checked={span.days.includes(i + 1)}
            onChange={(event) =>
              set({
                days: event.target.checked
                  ? [...span.days, i + 1].sort((a, b) => a - b)
                  : span.days.filter((one) => one !== i + 1),
              })
            }
          />
          {day}
        </label>
      ))}
      <span className="flex items-center gap-2 text-sm">
        <input
          type="time"
          className="input w-auto!"
          aria-label="from"
          value={span.from}
          onChange={(event) => set({ from: event.target.value })}
        />
        to
        <input
          type="time"
          className="input w-auto!"
          aria-label="to"
          value={span.to === '24:00' ? '23:59' : span.to}
          onChange={(event) => set({ to: event.target.value })}
        />
      </span>
    </>
  );
}
