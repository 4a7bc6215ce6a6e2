interface ToggleProps {
  readonly label: string;
  readonly on: boolean;
  readonly onChange: (on: boolean) => void;
}

/** A box to tick, with its words. */
export function Toggle({ label, on, onChange }: ToggleProps) {
  return (
    <label className="flex items-center gap-1.5">
      <input
        type="checkbox"
        checked={on}
        onChange={(event) => {
          onChange(event.target.checked);
        }}
      />
      {label}
    </label>
  );
}
