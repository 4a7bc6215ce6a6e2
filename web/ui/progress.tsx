/** How far something is: a bar that is visibly empty at its beginning. */
export function ProgressBar({ done, total, label }: { done: number; total: number; label: string }) {
  return (
    <progress
      className="block h-1.5 w-full appearance-none border border-rule bg-ground [&::-moz-progress-bar]:bg-accent [&::-webkit-progress-bar]:bg-ground [&::-webkit-progress-value]:bg-accent"
      value={done}
      max={Math.max(1, total)}
      aria-label={label}
    />
  );
}
