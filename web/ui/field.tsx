import {
  useId,
  type InputHTMLAttributes,
  type ReactNode,
  type SelectHTMLAttributes,
  type TextareaHTMLAttributes,
} from 'react';

const BOX = 'h-8 w-full border border-ink/60 bg-paper px-2 text-ink aria-invalid:border-wrong aria-invalid:border-2';

interface Labeled {
  readonly label: string;
  readonly error?: string | undefined;
  readonly hint?: ReactNode;
}

export function TextField({ label, error, hint, ...input }: Labeled & InputHTMLAttributes<HTMLInputElement>) {
  const id = useId();
  return (
    <Row id={id} label={label} error={error} hint={hint}>
      <input id={id} aria-invalid={error !== undefined} aria-describedby={`${id}-note`} className={BOX} {...input} />
    </Row>
  );
}

export function TextArea({
  label,
  error,
  hint,
  className = '',
  ...area
}: Labeled & TextareaHTMLAttributes<HTMLTextAreaElement>) {
  const id = useId();
  return (
    <Row id={id} label={label} error={error} hint={hint}>
      <textarea
        id={id}
        aria-invalid={error !== undefined}
        aria-describedby={`${id}-note`}
        className={`block w-full border border-ink/60 bg-paper px-2 py-1 text-ink aria-invalid:border-2 aria-invalid:border-wrong ${className}`}
        {...area}
      />
    </Row>
  );
}

export function SelectField({ label, error, hint, ...select }: Labeled & SelectHTMLAttributes<HTMLSelectElement>) {
  const id = useId();
  return (
    <Row id={id} label={label} error={error} hint={hint}>
      <select id={id} aria-invalid={error !== undefined} aria-describedby={`${id}-note`} className={BOX} {...select} />
    </Row>
  );
}

function Row({ id, label, error, hint, children }: Labeled & { id: string; children: ReactNode }) {
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-sm font-medium">
        {label}
      </label>
      {children}
      <p id={`${id}-note`} className={`mt-1 text-xs ${error ? 'text-wrong' : 'text-soft'}`}>
        {error ?? hint}
      </p>
    </div>
  );
}
