import { Fragment } from 'react';

import { stretchesOf } from '#core/sheet';

/** What signs are read as aloud; no font of the page has them. */
const NAMES: Readonly<Record<string, string>> = { '↧': 'depth', '⌴': 'counterbore', '⌵': 'countersink' };
const SIGNS = new RegExp(`([${Object.keys(NAMES).join('')}])`);
/** Height of a capital over the size of the lettering. */
const CAPITAL_EM = 0.7;

/** A text as it stands on a sheet, with the signs that fonts lack drawn as they are there. */
export const Signed = ({ text }: { readonly text: string }) => (
  <>
    {text.split(SIGNS).map((part, i) => (
      <Fragment key={i}>{NAMES[part] === undefined ? part : <Sign sign={part} name={NAMES[part]} />}</Fragment>
    ))}
  </>
);

function Sign({ sign, name }: { readonly sign: string; readonly name: string }) {
  const [drawn] = stretchesOf(sign);
  if (drawn?.kind !== 'sign') return <>{name}</>;
  return (
    <svg
      role="img"
      aria-label={name}
      viewBox={`0 -1 ${String(drawn.width)} 1`}
      style={{ height: `${String(CAPITAL_EM)}em`, width: `${String(CAPITAL_EM * drawn.width)}em` }}
      className="inline overflow-visible align-baseline"
    >
      {drawn.sign.strokes.map((stroke, i) => (
        <polyline
          key={i}
          points={stroke.map(([x, y]) => `${String(x)},${String(-y)}`).join(' ')}
          fill="none"
          stroke="currentColor"
          strokeWidth={0.11}
        />
      ))}
    </svg>
  );
}
