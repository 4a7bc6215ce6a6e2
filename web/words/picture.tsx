import type { ReactNode } from 'react';

import { WORDS, type WordId } from '#core/words';

/** Lines as on a sheet, 1 unit wide where they are edges. */
const Edge = ({ d }: { readonly d: string }) => <path d={d} fill="none" stroke="currentColor" strokeWidth={1.6} />;
const Thin = ({ d }: { readonly d: string }) => <path d={d} fill="none" stroke="currentColor" strokeWidth={0.6} />;
const Hidden = ({ d }: { readonly d: string }) => (
  <path d={d} fill="none" stroke="currentColor" strokeWidth={0.9} strokeDasharray="4 2" />
);
const Center = ({ d }: { readonly d: string }) => (
  <path d={d} fill="none" stroke="currentColor" strokeWidth={0.6} strokeDasharray="9 2 2 2" />
);
const Cutting = ({ d }: { readonly d: string }) => (
  <path d={d} fill="none" stroke="currentColor" strokeWidth={2} strokeDasharray="12 2 3 2" />
);
const Text = ({ x, y, children }: { readonly x: number; readonly y: number; readonly children: string }) => (
  <text x={x} y={y} fontSize={9} textAnchor="middle" fill="currentColor">
    {children}
  </text>
);

/** A filled arrowhead with its tip at a point, pointing along an angle in degrees, 0 to the right. */
const Arrow = ({ x, y, turn }: { readonly x: number; readonly y: number; readonly turn: number }) => (
  <path
    d="M0 0 L-6 -1.8 L-6 1.8 Z"
    fill="currentColor"
    transform={`translate(${String(x)} ${String(y)}) rotate(${String(turn)})`}
  />
);

/** A dimension line across, with both arrows. */
const Across = ({
  from,
  to,
  y,
  text,
}: {
  readonly from: number;
  readonly to: number;
  readonly y: number;
  readonly text: string;
}) => (
  <>
    <Thin d={`M${String(from)} ${String(y)} H${String(to)}`} />
    <Arrow x={from} y={y} turn={180} />
    <Arrow x={to} y={y} turn={0} />
    <Text x={(from + to) / 2} y={y - 2}>
      {text}
    </Text>
  </>
);

/** Slanted lines within an upright rectangle, as cut material is marked. */
function Hatch({
  x,
  y,
  width,
  height,
}: {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}) {
  const lines: string[] = [];
  for (let c = -height + 4; c < width; c += 6) {
    const [from, to] = [Math.max(0, c), Math.min(width, c + height)];
    lines.push(
      `M${String(x + from)} ${String(y + height - (from - c))} L${String(x + to)} ${String(y + height - (to - c))}`,
    );
  }
  return <Thin d={lines.join(' ')} />;
}

/** A hole in section: the walls at 60 and 100, the part from 20 to 80. */
const HolePart = ({
  children,
  left = 60,
  right = 100,
}: {
  readonly children: ReactNode;
  readonly left?: number;
  readonly right?: number;
}) => (
  <>
    <Hatch x={20} y={20} width={left - 20} height={60} />
    <Hatch x={right} y={20} width={140 - right} height={60} />
    <Center d="M80 10 V90" />
    {children}
  </>
);

const PROJECTION = {
  above: (
    <>
      <Edge d="M50 54 H110 V80 H50 Z M70 54 V62 H90 V54" />
      <Edge d="M50 12 H110 V38 H50 Z M70 12 V38 M90 12 V38" />
      <Thin d="M50 38 V54 M110 38 V54" />
      <Text x={136} y={70}>
        front
      </Text>
      <Text x={138} y={28}>
        above
      </Text>
    </>
  ),
  below: (
    <>
      <Edge d="M50 12 H110 V38 H50 Z M70 12 V20 H90 V12" />
      <Edge d="M50 54 H110 V80 H50 Z M70 54 V80 M90 54 V80" />
      <Thin d="M50 38 V54 M110 38 V54" />
      <Text x={136} y={28}>
        front
      </Text>
      <Text x={138} y={70}>
        above
      </Text>
    </>
  ),
};

/** Drawn on 160 x 100. */
const PICTURES: Readonly<Record<WordId, ReactNode>> = {
  'first-angle': PROJECTION.below,
  'third-angle': PROJECTION.above,
  pictorial: <Edge d="M80 12 L126 36 V66 L80 90 L34 66 V36 Z M34 36 L80 60 L126 36 M80 60 V90" />,
  'hidden-line': (
    <>
      <Edge d="M30 25 H130 V75 H30 Z" />
      <Hidden d="M66 25 V75 M94 25 V75" />
    </>
  ),
  'center-line': (
    <>
      <Edge d="M30 30 H130 V70 H30 Z M110 50 A30 14 0 1 1 50 50 A30 14 0 1 1 110 50" />
      <Center d="M20 50 H140 M80 18 V82" />
    </>
  ),
  section: (
    <>
      <Edge d="M14 20 H66 V80 H14 Z M54 50 A14 14 0 1 1 26 50 A14 14 0 1 1 54 50" />
      <Cutting d="M6 50 H74" />
      <Arrow x={9} y={40} turn={-90} />
      <Arrow x={71} y={40} turn={-90} />
      <Thin d="M9 50 V40 M71 50 V40" />
      <Text x={9} y={31}>
        A
      </Text>
      <Text x={71} y={31}>
        A
      </Text>
      <Edge d="M96 30 H148 V70 H96 Z M108 30 V70 M136 30 V70" />
      <Hatch x={96} y={30} width={12} height={40} />
      <Hatch x={136} y={30} width={12} height={40} />
      <Text x={122} y={88}>
        A-A
      </Text>
    </>
  ),
  'half-section': (
    <>
      <Edge d="M30 25 H130 V75 H30 Z M92 25 V75" />
      <Hatch x={92} y={25} width={38} height={50} />
      <Center d="M80 12 V88" />
      <Text x={55} y={94}>
        outside
      </Text>
      <Text x={110} y={94}>
        inside
      </Text>
    </>
  ),
  'stepped-section': (
    <>
      <Edge d="M26 16 H134 V84 H26 Z M62 34 A10 10 0 1 1 42 34 A10 10 0 1 1 62 34 M118 64 A10 10 0 1 1 98 64 A10 10 0 1 1 118 64" />
      <Cutting d="M14 34 H80 V64 H146" />
    </>
  ),
  detail: (
    <>
      <Edge d="M12 40 H54 V30 H62 V70 H12" />
      <Thin d="M70 34 A14 14 0 1 1 42 34 A14 14 0 1 1 70 34" />
      <Text x={72} y={20}>
        B
      </Text>
      <Edge d="M94 62 H122 V36 H140" />
      <Thin d="M152 50 A32 32 0 1 1 88 50 A32 32 0 1 1 152 50" />
      <Text x={120} y={94}>
        B (2:1)
      </Text>
    </>
  ),
  letter: (
    <>
      <Edge d="M30 40 H100 V70 H30 Z" />
      <Thin d="M30 38 V18 M100 38 V18" />
      <Across from={30} to={100} y={22} text="A" />
      <Thin d="M114 40 H152 V70 H114 Z M114 55 H152 M130 40 V70" />
      <Text x={122} y={51}>
        A
      </Text>
      <Text x={141} y={51}>
        84
      </Text>
      <Text x={122} y={66}>
        B
      </Text>
      <Text x={141} y={66}>
        30
      </Text>
    </>
  ),
  baseline: (
    <>
      <Edge d="M24 58 H140 V88 H24 Z" />
      <Thin d="M24 56 V10 M62 72 V40 M100 72 V24 M140 56 V8" />
      <Across from={24} to={62} y={46} text="20" />
      <Across from={24} to={100} y={30} text="40" />
      <Across from={24} to={140} y={14} text="62" />
    </>
  ),
  chain: (
    <>
      <Edge d="M24 48 H140 V82 H24 Z" />
      <Thin d="M24 46 V22 M62 62 V22 M100 62 V22 M140 46 V22" />
      <Across from={24} to={62} y={28} text="20" />
      <Across from={62} to={100} y={28} text="20" />
      <Across from={100} to={140} y={28} text="22" />
    </>
  ),
  diameter: (
    <>
      <Edge d="M112 50 A32 32 0 1 1 48 50 A32 32 0 1 1 112 50" />
      <Center d="M40 50 H120 M80 10 V90" />
      <Thin d="M57.4 27.4 L102.6 72.6 L116 86 H134" />
      <Arrow x={57.4} y={27.4} turn={-135} />
      <Arrow x={102.6} y={72.6} turn={45} />
      <Text x={144} y={89}>
        ⌀16
      </Text>
    </>
  ),
  radius: (
    <>
      <Edge d="M24 84 V44 A28 28 0 0 1 52 16 H130" />
      <Thin d="M52 44 L32.2 24.2" />
      <Arrow x={32.2} y={24.2} turn={-135} />
      <circle cx={52} cy={44} r={1.5} fill="currentColor" />
      <Text x={70} y={50}>
        R8
      </Text>
    </>
  ),
  count: (
    <>
      <Edge d="M20 30 H120 V80 H20 Z M46 42 A6 6 0 1 1 34 42 A6 6 0 1 1 46 42 M106 42 A6 6 0 1 1 94 42 A6 6 0 1 1 106 42 M46 68 A6 6 0 1 1 34 68 A6 6 0 1 1 46 68 M106 68 A6 6 0 1 1 94 68 A6 6 0 1 1 106 68" />
      <Thin d="M104.2 37.8 L122 18 H128" />
      <Arrow x={104.2} y={37.8} turn={132} />
      <Text x={145} y={21}>
        4 x ⌀9
      </Text>
    </>
  ),
  'bolt-circle': (
    <>
      <Edge d="M122 50 A42 42 0 1 1 38 50 A42 42 0 1 1 122 50 M85 22 A5 5 0 1 1 75 22 A5 5 0 1 1 85 22 M85 78 A5 5 0 1 1 75 78 A5 5 0 1 1 85 78 M57 50 A5 5 0 1 1 47 50 A5 5 0 1 1 57 50 M113 50 A5 5 0 1 1 103 50 A5 5 0 1 1 113 50" />
      <Center d="M108 50 A28 28 0 1 1 52 50 A28 28 0 1 1 108 50" />
    </>
  ),
  'equally-spaced': (
    <>
      <Center d="M112 50 A32 32 0 1 1 48 50 A32 32 0 1 1 112 50 M80 50 L80 10 M80 50 L116 70 M80 50 L44 70" />
      <Edge d="M85 18 A5 5 0 1 1 75 18 A5 5 0 1 1 85 18 M112.7 66 A5 5 0 1 1 102.7 66 A5 5 0 1 1 112.7 66 M57.3 66 A5 5 0 1 1 47.3 66 A5 5 0 1 1 57.3 66" />
      <Text x={98} y={40}>
        120°
      </Text>
    </>
  ),
  through: (
    <HolePart>
      <Edge d="M20 20 H140 V80 H20 Z M60 20 V80 M100 20 V80" />
    </HolePart>
  ),
  depth: (
    <HolePart>
      <Edge d="M10 4 V14 M4 16 H16" />
      <Arrow x={10} y={14} turn={90} />
      <Hatch x={60} y={70} width={40} height={10} />
      <Edge d="M20 20 H140 V80 H20 Z M60 20 V58 H100 V20 M60 58 L80 70 L100 58" />
      <Thin d="M100 58 H152 M140 20 H152" />
      <Thin d="M148 20 V58" />
      <Arrow x={148} y={20} turn={-90} />
      <Arrow x={148} y={58} turn={90} />
    </HolePart>
  ),
  counterbore: (
    <HolePart left={66} right={94}>
      <Edge d="M4 6 V14 H17 V6" />
      <path d="M50 20 H110 V44 H50 Z" fill="var(--paper)" />
      <Center d="M80 10 V90" />
      <Edge d="M20 20 H50 V44 H66 V80 M140 20 H110 V44 H94 V80 M66 44 H94 M50 20 H110 M20 20 V80 H140 V20" />
    </HolePart>
  ),
  countersink: (
    <HolePart left={66} right={94}>
      <Edge d="M4 6 L10.5 14 L17 6" />
      <path d="M46 20 H114 L94 40 H66 Z" fill="var(--paper)" />
      <Center d="M80 10 V90" />
      <Edge d="M20 20 H46 L66 40 V80 M140 20 H114 L94 40 V80 M66 40 H94 M46 20 H114 M20 20 V80 H140 V20" />
    </HolePart>
  ),
  thread: (
    <>
      <Edge d="M20 30 H130 L136 36 V64 L130 70 H20 Z M70 30 V70" />
      <Thin d="M70 36 H136 M70 64 H136" />
      <Center d="M12 50 H146" />
      <Text x={104} y={22}>
        M12 x 1.75
      </Text>
    </>
  ),
  chamfer: (
    <>
      <Edge d="M20 84 V20 H108 L132 44 V84" />
      <Thin d="M108 18 V8 M132 42 V8 M120 32 L136 20" />
      <Across from={108} to={132} y={12} text="2" />
      <Text x={146} y={20}>
        45°
      </Text>
    </>
  ),
};

/** A small picture of what a word means. */
export const WordPicture = ({ word }: { readonly word: WordId }) => (
  <svg
    viewBox="0 0 160 100"
    role="img"
    aria-label={`Picture: ${WORDS[word].name}`}
    className="w-full border border-rule"
  >
    {PICTURES[word]}
  </svg>
);
