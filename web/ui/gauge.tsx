import type { Verdict } from '#core/grade';

const SCALE_TOLERANCES = 4;

/** Tolerance band with a needle: where a measured value lies, in tolerances; beyond the scale the needle becomes an arrow. */
export function Gauge({ deviation, tolerance, verdict }: { deviation: number; tolerance: number; verdict: Verdict }) {
  const exact = tolerance > 0 ? deviation / tolerance : Math.sign(deviation) * SCALE_TOLERANCES * 2;
  const beyond = Math.abs(exact) > SCALE_TOLERANCES;
  const place = Math.max(-SCALE_TOLERANCES, Math.min(SCALE_TOLERANCES, exact));
  const x = 50 + (place / SCALE_TOLERANCES) * 44;
  const band = 44 / SCALE_TOLERANCES;
  return (
    <svg
      viewBox="0 0 100 16"
      className={`block h-3.5 w-20 ${verdict === 'right' ? 'text-accent' : verdict === 'near' ? 'text-near' : 'text-wrong'}`}
      aria-hidden
    >
      <path d="M4 8h92" className="stroke-rule" strokeWidth="1" />
      <rect
        x={50 - band}
        y="4"
        width={2 * band}
        height="8"
        className="fill-accent-soft stroke-soft"
        strokeWidth="0.7"
      />
      <path d="M50 3v10" className="stroke-soft" strokeWidth="0.7" />
      {beyond ? (
        <path d={place > 0 ? 'M88 3l8 5-8 5z' : 'M12 3L4 8l8 5z'} fill="currentColor" />
      ) : (
        <path d={`M${String(x)} 1v14`} stroke="currentColor" strokeWidth="2.4" />
      )}
    </svg>
  );
}
