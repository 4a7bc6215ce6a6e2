import { Maximize } from 'lucide-react';
import { useEffect, useRef, useState, type RefObject } from 'react';

import type { DisplayModel } from '#api';

import { ViewCross } from './cross.tsx';
import { PartScene, type DifferencePiece, type ScenePin, type Section, type SectionAxis, type View } from './scene.ts';

export interface ViewerProps {
  readonly model: DisplayModel;
  /** What the picture shows, for those who do not see it. */
  readonly label: string;
  readonly failedFaces?: ReadonlySet<number>;
  readonly pickedFaces?: ReadonlySet<number>;
  /** Missing and extra material to show in the part; the part is then seen through. */
  readonly difference?: readonly DifferencePiece[];
  /** Another part in the same place, and how much of it is seen, 0 to 1. */
  readonly compared?: { readonly model: DisplayModel; readonly share: number };
  readonly pins?: readonly ScenePin[];
  readonly onPick?: (faceId: number | null) => void;
  readonly pickedEdges?: ReadonlySet<number>;
  /** An edge was chosen; without it, edges are none to choose. */
  readonly onPickEdge?: (edgeId: number) => void;
  /** Takes the place of `onPick`: a point of the part was chosen. */
  readonly onPoint?: (at: ScenePin['at']) => void;
  /** The eye stays where it is when the model changes. */
  readonly keepView?: boolean;
  readonly theme: 'light' | 'dark';
}

const NONE: ReadonlySet<number> = new Set();
const NO_PIECES: readonly DifferencePiece[] = [];
const NO_PINS: readonly ScenePin[] = [];

const COLORS = {
  light: {
    paper: '#fafbfa',
    ink: '#14201f',
    part: '#b7c6c2',
    cut: '#5f716d',
    marked: '#c65a2c',
    picked: '#2f8f98',
    outline: '#8c2f0c',
    missing: '#3b5fa8',
    extra: '#b9822b',
  },
  dark: {
    paper: '#18211f',
    ink: '#dfe8e5',
    part: '#5d706b',
    cut: '#95a8a3',
    marked: '#d9774b',
    picked: '#63c3c8',
    outline: '#ffb08a',
    missing: '#8fb0f2',
    extra: '#e2b35f',
  },
} as const;

const AXES: readonly SectionAxis[] = ['x', 'y', 'z'];

/** The scene in a container; it is made anew for a new model, and kept with `keepView`. */
function useScene(
  container: RefObject<HTMLDivElement | null>,
  model: DisplayModel,
  { keepView, theme }: { readonly keepView: boolean; readonly theme: keyof typeof COLORS },
): PartScene | null {
  const [scene, setScene] = useState<PartScene | null>(null);
  const lastView = useRef<View | null>(null);
  const shown = useRef<DisplayModel | null>(null);

  // With `keepView` a new model is put into the scene that is there, seen from where the one before it was.
  const latest = useRef(model);
  useEffect(() => {
    latest.current = model;
  });
  const sceneModel = keepView ? null : model;
  useEffect(() => {
    if (container.current === null) return undefined;
    const created = new PartScene(container.current, sceneModel ?? latest.current, COLORS[theme]);
    if (sceneModel === null && lastView.current !== null) created.restore(lastView.current);
    shown.current = sceneModel ?? latest.current;
    setScene(created);
    return () => {
      lastView.current = created.view();
      created.dispose();
      setScene(null);
    };
  }, [container, sceneModel, theme]);

  useEffect(() => {
    if (scene === null || shown.current === model) return;
    shown.current = model;
    scene.replace(model);
  }, [scene, model]);

  return scene;
}

/** No section, or one across an axis and where along it. */
function SectionControl({
  section,
  onChange,
}: {
  section: Section | null;
  onChange: (section: Section | null) => void;
}) {
  return (
    <fieldset className="absolute bottom-2 left-2 flex items-center gap-2 bg-paper/90 px-1 text-2xs">
      <legend className="sr-only">Section plane</legend>
      <span className="text-soft">Section</span>
      {([null, ...AXES] as const).map((axis) => (
        <label
          key={axis ?? 'none'}
          className="flex h-6 min-w-6 cursor-pointer items-center justify-center border border-ink/50 px-1.5 has-checked:bg-ink has-checked:text-paper has-focus-visible:outline-2"
        >
          <input
            type="radio"
            name="section"
            className="sr-only"
            checked={(section?.axis ?? null) === axis}
            onChange={() => {
              onChange(axis === null ? null : { axis, share: 0.5 });
            }}
          />
          {axis === null ? 'None' : axis.toUpperCase()}
        </label>
      ))}
      {section && (
        <input
          type="range"
          aria-label={`Position of the section along ${section.axis.toUpperCase()}`}
          min={0}
          max={1}
          step={0.005}
          value={section.share}
          className="w-28 accent-accent"
          onChange={(event) => {
            onChange({ ...section, share: Number(event.target.value) });
          }}
        />
      )}
    </fieldset>
  );
}

/** The part in 3D: orbit by dragging, named views, fit, section plane, failed and picked faces marked. */
export default function Viewer({
  model,
  label,
  failedFaces = NONE,
  pickedFaces = NONE,
  pickedEdges = NONE,
  difference = NO_PIECES,
  compared,
  pins = NO_PINS,
  onPick,
  onPickEdge,
  onPoint,
  keepView = false,
  theme,
}: ViewerProps) {
  const container = useRef<HTMLDivElement>(null);
  const [section, setSection] = useState<Section | null>(null);
  const pressed = useRef<{ x: number; y: number } | null>(null);
  const scene = useScene(container, model, { keepView, theme });

  useEffect(() => {
    scene?.mark(failedFaces, pickedFaces, pickedEdges);
  }, [scene, model, failedFaces, pickedFaces, pickedEdges]);

  useEffect(() => {
    scene?.section(section);
  }, [scene, section]);

  useEffect(() => {
    scene?.difference(difference);
  }, [scene, difference]);

  useEffect(() => {
    scene?.compare(compared?.model ?? null, compared?.share ?? 0);
  }, [scene, compared?.model, compared?.share]);

  useEffect(() => {
    scene?.pins(pins);
  }, [scene, pins]);

  return (
    <div className="relative h-full min-h-72 w-full">
      <div
        ref={container}
        role="img"
        aria-label={label}
        data-testid="viewer"
        className={`absolute inset-0 touch-none overflow-hidden bg-paper ${onPoint ? 'cursor-crosshair' : ''}`}
        onPointerDown={(event) => {
          pressed.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerUp={(event) => {
          const from = pressed.current;
          if (!scene || !from || Math.hypot(event.clientX - from.x, event.clientY - from.y) > 4) return;
          const edge = onPickEdge === undefined ? null : scene.edgeAt(event.clientX, event.clientY);
          if (edge !== null) {
            onPickEdge?.(edge);
            return;
          }
          const hit = scene.hitAt(event.clientX, event.clientY);
          if (onPoint === undefined) onPick?.(hit?.faceId ?? null);
          else if (hit) onPoint(hit.at);
        }}
      />
      <div className="absolute right-2 bottom-2 flex flex-col items-end gap-1">
        <ViewCross onChoose={(view) => scene?.look(view)} />
        <button
          type="button"
          className="flex h-6 cursor-pointer items-center gap-1 border border-ink/50 bg-paper px-2 text-2xs hover:bg-accent-soft"
          onClick={() => scene?.fit()}
        >
          <Maximize size={12} aria-hidden /> Fit
        </button>
      </div>
      <SectionControl section={section} onChange={setSection} />
    </div>
  );
}
