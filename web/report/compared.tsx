/** Goes from the model that was handed in to the reference in its place. */
export function Compared({ share, onShare }: { share: number; onShare: (share: number) => void }) {
  return (
    <label className="flex items-center gap-2 px-3 text-xs text-soft">
      handed in
      <input
        type="range"
        aria-label="From the model handed in to the reference"
        min={0}
        max={1}
        step={0.05}
        value={share}
        className="w-28 accent-accent"
        onChange={(event) => {
          onShare(Number(event.target.value));
        }}
      />
      reference
    </label>
  );
}
