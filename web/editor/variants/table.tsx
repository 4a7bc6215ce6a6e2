import type { Exercise, Variant } from '#core/exercise';
import { formatFixed, propertyUnits, unitFactor } from '#core/quantity';
import type { VariantVerdict } from '#core/variant';
import { Button, Panel, plural } from '#web/ui';

interface VariantTableProps {
  readonly exercise: Exercise;
  /** By variant; null while they are built. */
  readonly verdicts: readonly VariantVerdict[] | null;
  readonly onPut: (variants: readonly Variant[], topic?: string | null) => void;
}

/** The variants with their values, their volume, and whether each can be given out. */
export function VariantTable({ exercise, verdicts, onPut }: VariantTableProps) {
  const { recipe, variants } = exercise;
  return (
    <Panel
      title={titleOf(variants, verdicts)}
      aside={
        <span className="flex gap-2">
          <Button
            onClick={() => {
              onPut([...variants, { name: freeName(variants), values: {} }]);
            }}
          >
            Add one
          </Button>
          {variants.length > 0 && (
            <Button
              onClick={() => {
                onPut([]);
              }}
            >
              Remove all
            </Button>
          )}
        </span>
      }
    >
      {variants.length > 0 && (
        <table className="w-full text-sm" data-testid="variants">
          <thead>
            <tr className="border-b border-rule text-left caption">
              <th className="px-3 py-1 font-normal">Variant</th>
              {recipe.parameters.map(({ name, label }) => (
                <th key={name} className="font-normal" title={label}>
                  {name}
                </th>
              ))}
              <th className="font-normal">Volume</th>
              <th className="font-normal">State</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {variants.map((variant, i) => (
              <VariantRow
                key={i}
                variant={variant}
                exercise={exercise}
                verdict={verdicts?.[i]}
                onChange={(next, topic) => {
                  onPut(
                    variants.map((other, j) => (j === i ? next : other)),
                    topic === null ? null : `variant ${String(i)} ${topic}`,
                  );
                }}
                onRemove={() => {
                  onPut(variants.filter((_, j) => j !== i));
                }}
              />
            ))}
          </tbody>
        </table>
      )}
    </Panel>
  );
}

function titleOf(variants: readonly Variant[], verdicts: readonly VariantVerdict[] | null): string {
  if (variants.length === 0) return 'Every student gets the values of the sheet';
  if (verdicts === null) return `${plural(variants.length, 'variant')}, being built ...`;
  const bad = verdicts.filter(({ problem }) => problem !== null).length;
  return bad > 0
    ? `${plural(bad, 'variant')} of ${String(variants.length)} cannot be given out`
    : `${plural(variants.length, 'variant')}, all sound and none alike`;
}

const freeName = (variants: readonly Variant[]): string => {
  const taken = new Set(variants.map(({ name }) => name));
  for (let n = variants.length + 1; ; n++) if (!taken.has(String(n))) return String(n);
};

function VariantRow({
  variant,
  exercise,
  verdict,
  onChange,
  onRemove,
}: {
  variant: Variant;
  exercise: Exercise;
  verdict: VariantVerdict | undefined;
  onChange: (variant: Variant, topic: string | null) => void;
  onRemove: () => void;
}) {
  const { recipe } = exercise;
  return (
    <tr className="border-b border-rule">
      <td className="px-3 py-0.5 font-medium">{variant.name}</td>
      {recipe.parameters.map(({ name, value }) => (
        <td key={name} className="pr-1">
          <input
            aria-label={`${name} of variant ${variant.name}`}
            className="h-7 w-20 border border-rule bg-transparent px-1"
            placeholder={value}
            value={variant.values[name] ?? ''}
            onChange={(event) => {
              const { [name]: _, ...rest } = variant.values;
              const text = event.target.value.trim();
              onChange({ ...variant, values: text === '' ? rest : { ...rest, [name]: text } }, name);
            }}
          />
        </td>
      ))}
      <td className="pr-2">{verdict?.properties ? volumeText(verdict.properties.volumeMm3, exercise) : ''}</td>
      <td>
        {verdict === undefined ? (
          <span className="text-soft">...</span>
        ) : verdict.problem === null ? (
          '✓ sound'
        ) : (
          <span className="text-wrong">✕ {verdict.problem.message}</span>
        )}
      </td>
      <td>
        <button
          type="button"
          className="cursor-pointer px-2 underline"
          aria-label={`Remove variant ${variant.name}`}
          onClick={onRemove}
        >
          Remove
        </button>
      </td>
    </tr>
  );
}

function volumeText(mm3: number, { recipe: { unit } }: Exercise): string {
  const own = propertyUnits(unit).volume;
  return `${formatFixed(mm3 / unitFactor(own, 'volume'), unit === 'mm' ? 1 : 4)} ${own}`;
}
