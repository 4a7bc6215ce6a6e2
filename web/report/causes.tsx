import type { Cause } from '#core/grade';

const sureness = (certainty: number): string =>
  certainty >= 0.9 ? 'almost certain' : certainty >= 0.75 ? 'likely' : 'possible';

const EXPLAINS = {
  all: 'explains the part completely',
  most: 'explains most of what is wrong',
  observed: '',
} as const;

/** Probable causes, the surest first; choosing one marks what it is about. */
export function Causes({
  causes,
  chosen,
  onChoose,
}: {
  causes: readonly Cause[];
  chosen: string | null;
  onChoose: (message: string | null) => void;
}) {
  return (
    <ol className="divide-y divide-rule">
      {causes.map((cause) => (
        <li key={cause.message}>
          <button
            type="button"
            aria-pressed={chosen === cause.message}
            className="block w-full cursor-pointer px-3 py-2 text-left hover:bg-accent-soft aria-pressed:bg-accent-soft"
            onClick={() => {
              onChoose(chosen === cause.message ? null : cause.message);
            }}
          >
            <span className="block leading-5">
              {cause.instead && <span className="text-soft">Or: </span>}
              {cause.message}
            </span>
            <span className="caption">
              {sureness(cause.certainty)}
              {EXPLAINS[cause.explains] === '' ? '' : `, ${EXPLAINS[cause.explains]}`}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}
