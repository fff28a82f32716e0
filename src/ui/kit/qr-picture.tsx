interface Props {
  /** Dark modules, the quiet zone included. */
  rows: boolean[][];
  label: string;
  className?: string;
}

/** A QR code, dark on white in both themes. */
export function QrPicture({ rows, label, className = 'w-36' }: Props) {
  return (
    <svg
      viewBox={`0 0 ${rows.length} ${rows.length}`}
      shapeRendering="crispEdges"
      role="img"
      aria-label={label}
      className={`bg-white ${className}`}
    >
      <path d={pathOf(rows)} fill="#000" />
    </svg>
  );
}

const pathOf = (rows: boolean[][]): string =>
  rows.flatMap((row, y) => row.flatMap((dark, x) => (dark ? `M${x} ${y}h1v1h-1z` : []))).join('');
