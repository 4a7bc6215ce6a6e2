import CameraControls from 'camera-controls';
import * as THREE from 'three';

import type { DisplayModel } from '#api';

CameraControls.install({ THREE });

export type ViewName = 'front' | 'back' | 'left' | 'right' | 'top' | 'bottom' | 'isometric';
export type SectionAxis = 'x' | 'y' | 'z';

/** Plane that hides what lies beyond it; `share` runs over the extent of the part, 0 to 1. */
export interface Section {
  readonly axis: SectionAxis;
  readonly share: number;
}

export interface SceneColors {
  readonly paper: string;
  readonly ink: string;
  readonly part: string;
  readonly cut: string;
  readonly marked: string;
  readonly picked: string;
  readonly outline: string;
  readonly missing: string;
  readonly extra: string;
}

/** Where the eye is, what it looks at, and how near. */
export interface View {
  readonly eye: THREE.Vector3;
  readonly target: THREE.Vector3;
  readonly zoom: number;
}

/** Material that only one of two parts has. */
export interface DifferencePiece {
  readonly kind: 'missing' | 'extra';
  readonly positions: readonly number[];
  readonly indices: readonly number[];
}

/** A numbered mark at a point of the part. */
export interface ScenePin {
  readonly label: string;
  readonly at: readonly [number, number, number];
}

/** What is under the pointer. */
export interface Hit {
  readonly faceId: number | null;
  readonly at: readonly [number, number, number];
}

/** A mark as large on the screen from near and far, over everything. */
function spriteOf({ label, at }: ScenePin, { ink, paper }: SceneColors): THREE.Sprite {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 64;
  const context = canvas.getContext('2d');
  if (context) {
    context.fillStyle = ink;
    context.beginPath();
    context.arc(32, 32, 28, 0, 2 * Math.PI);
    context.fill();
    context.fillStyle = paper;
    context.font = '600 36px Archivo, sans-serif';
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    context.fillText(label, 32, 34);
  }
  const map = new THREE.CanvasTexture(canvas);
  map.colorSpace = THREE.SRGBColorSpace;
  const sprite = new THREE.Sprite(new THREE.SpriteMaterial({ map, depthTest: false, transparent: true }));
  sprite.position.set(...at);
  sprite.renderOrder = 3;
  return sprite;
}

/** Turn about the vertical and angle from it, in radians, for the part's Z up. */
const DIRECTIONS: Readonly<Record<ViewName, readonly [x: number, y: number, z: number]>> = {
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  top: [0, -0.0001, 1],
  bottom: [0, -0.0001, -1],
  isometric: [1, -1, 1],
};

const AXIS_NORMALS: Readonly<Record<SectionAxis, readonly [number, number, number]>> = {
  x: [-1, 0, 0],
  y: [0, 1, 0],
  z: [0, 0, -1],
};

/** Marked faces carry stripes, so that they stand out without their color. */
function striped(material: THREE.MeshLambertMaterial): THREE.MeshLambertMaterial {
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <color_fragment>',
      `#include <color_fragment>
       if (mod(gl_FragCoord.x - gl_FragCoord.y, 9.0) < 3.0) diffuseColor.rgb = mix(diffuseColor.rgb, vec3(1.0), 0.45);`,
    );
  };
  return material;
}

/** How near a pointer has to come to an edge, pixels. */
const EDGE_PIXELS = 5;

/** Polylines as separate segments. */
function linesOf(edges: DisplayModel['mesh']['edges']): THREE.BufferGeometry {
  const lines: number[] = [];
  for (const { points } of edges) for (let i = 0; i + 5 < points.length; i += 3) lines.push(...points.slice(i, i + 6));
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(lines, 3));
  return geometry;
}

/** Which edge a vertex of `linesOf` belongs to. */
function edgeOfVertex(edges: DisplayModel['mesh']['edges'], vertex: number): number | null {
  let before = 0;
  for (const { edgeId, points } of edges) {
    before += 2 * Math.max(0, Math.floor(points.length / 3) - 1);
    if (vertex < before) return edgeId;
  }
  return null;
}

function geometryOf(model: DisplayModel): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(model.mesh.positions, 3));
  geometry.setIndex([...model.mesh.indices]);
  geometry.computeVertexNormals();
  for (const { start, count } of model.mesh.groups) geometry.addGroup(start, count, 0);
  return geometry;
}

/** Everything of the 3D view that is not React: one part, orthographic, drawn only when something changes. */
export class PartScene {
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  private readonly camera = new THREE.OrthographicCamera();
  private readonly controls: CameraControls;
  private readonly clock = new THREE.Clock();
  private readonly clip = new THREE.Plane(new THREE.Vector3(0, 0, -1), 1e9);
  private sphere = new THREE.Sphere();
  private readonly part: THREE.Mesh<THREE.BufferGeometry, THREE.Material[]>;
  private readonly inside: THREE.Mesh;
  private readonly edges: THREE.LineSegments;
  private readonly outline: THREE.LineSegments;
  private model: DisplayModel;
  private box: THREE.Box3;
  private faceOfGroup: readonly number[];
  private readonly pieces = new THREE.Group();
  private readonly pinned = new THREE.Group();
  /** The other part of a comparison. */
  private readonly other: THREE.Mesh<THREE.BufferGeometry, THREE.MeshLambertMaterial>;
  private readonly otherEdges: THREE.LineSegments<THREE.BufferGeometry, THREE.LineBasicMaterial>;
  private otherModel: DisplayModel | null = null;
  private opacity = { part: 1, other: 0 };
  private frame = 0;
  private readonly resizer: ResizeObserver;
  private readonly container: HTMLElement;
  private readonly colors: SceneColors;

  constructor(container: HTMLElement, model: DisplayModel, colors: SceneColors) {
    this.container = container;
    this.colors = colors;
    this.renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true });
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.localClippingEnabled = true;
    container.appendChild(this.renderer.domElement);
    this.renderer.domElement.style.display = 'block';
    this.camera.up.set(0, 0, 1);

    const geometry = geometryOf(model);
    this.faceOfGroup = model.mesh.groups.map((group) => group.faceId);

    const clippingPlanes = [this.clip];
    const offset = { polygonOffset: true, polygonOffsetFactor: 1.5, polygonOffsetUnits: 4 } as const;
    this.part = new THREE.Mesh(geometry, [
      new THREE.MeshLambertMaterial({ color: colors.part, clippingPlanes, ...offset }),
      striped(new THREE.MeshLambertMaterial({ color: colors.marked, clippingPlanes, ...offset })),
      striped(new THREE.MeshLambertMaterial({ color: colors.picked, clippingPlanes, ...offset })),
    ]);
    // The inner side of the surface, flat in one color, reads as the cut material behind a section plane.
    this.inside = new THREE.Mesh(
      geometry,
      new THREE.MeshBasicMaterial({ color: colors.cut, side: THREE.BackSide, clippingPlanes }),
    );
    this.edges = new THREE.LineSegments(
      linesOf(model.mesh.edges),
      new THREE.LineBasicMaterial({ color: colors.ink, clippingPlanes }),
    );
    // Drawn over everything, so that a marked hole shows from behind too.
    this.outline = new THREE.LineSegments(
      new THREE.BufferGeometry(),
      new THREE.LineBasicMaterial({ color: colors.outline, depthTest: false, transparent: true }),
    );
    this.outline.renderOrder = 2;
    this.outline.frustumCulled = false;
    this.model = model;
    this.other = new THREE.Mesh(
      new THREE.BufferGeometry(),
      new THREE.MeshLambertMaterial({ color: colors.missing, clippingPlanes, side: THREE.DoubleSide, ...offset }),
    );
    this.otherEdges = new THREE.LineSegments(
      new THREE.BufferGeometry(),
      new THREE.LineBasicMaterial({ color: colors.missing, clippingPlanes, transparent: true }),
    );
    this.scene.add(this.part, this.inside, this.edges, this.outline, this.pieces);
    this.scene.add(this.other, this.otherEdges, this.pinned);
    this.compare(null, 0);

    const key = new THREE.DirectionalLight(0xffffff, 1.7);
    key.position.set(0.4, 0.6, 1);
    const rig = new THREE.Object3D();
    rig.add(key, key.target);
    this.camera.add(rig);
    this.scene.add(this.camera, new THREE.AmbientLight(0xffffff, 1.5));

    this.box = this.measure(model);
    this.controls = new CameraControls(this.camera, this.renderer.domElement);
    this.controls.smoothTime = 0.12;
    this.controls.draggingSmoothTime = 0.05;
    this.controls.mouseButtons.wheel = CameraControls.ACTION.ZOOM;
    this.controls.dollyToCursor = true;
    this.controls.addEventListener('update', () => {
      this.requestFrame();
    });
    for (const event of ['controlstart', 'control', 'transitionstart', 'wake'] as const)
      this.controls.addEventListener(event, () => {
        this.requestFrame();
      });
    this.resizer = new ResizeObserver(() => {
      this.resize();
    });
    this.resizer.observe(container);
    this.resize();
    this.look('isometric', false);
  }

  private measure(model: DisplayModel): THREE.Box3 {
    const box = new THREE.Box3(new THREE.Vector3(...model.bounds.min), new THREE.Vector3(...model.bounds.max));
    this.sphere = box.getBoundingSphere(new THREE.Sphere());
    // A tight depth range keeps the edges in front of their faces.
    this.camera.near = this.sphere.radius * 0.5;
    this.camera.far = this.sphere.radius * 8;
    return box;
  }

  /** Shows another model from where the eye is. */
  replace(model: DisplayModel): void {
    for (const { geometry } of [this.part, this.edges]) geometry.dispose();
    const geometry = geometryOf(model);
    this.part.geometry = geometry;
    this.inside.geometry = geometry;
    this.edges.geometry = linesOf(model.mesh.edges);
    this.faceOfGroup = model.mesh.groups.map((group) => group.faceId);
    this.model = model;
    const before = this.sphere.radius;
    this.box = this.measure(model);
    const growth = this.sphere.radius / before;
    // The depth range is measured from the eye, which keeps its direction.
    const [eye, target] = [new THREE.Vector3(), new THREE.Vector3()];
    this.controls.getPosition(eye);
    this.controls.getTarget(target);
    const back = eye
      .sub(target)
      .setLength(this.sphere.radius * 4)
      .add(target);
    void this.controls.setLookAt(back.x, back.y, back.z, target.x, target.y, target.z, false);
    // A part of quite another size, as after a change of unit, would be out of sight.
    if (!(growth > 0.25 && growth < 4)) this.fit(false);
    this.camera.updateProjectionMatrix();
    this.requestFrame();
  }

  /** Where the eye is, to be given to `restore` of another scene. */
  view(): View {
    const [eye, target] = [new THREE.Vector3(), new THREE.Vector3()];
    this.controls.getPosition(eye);
    this.controls.getTarget(target);
    return { eye, target, zoom: this.camera.zoom };
  }

  /** Puts the eye where it was in another scene. */
  restore({ eye, target, zoom }: View): void {
    void this.controls.setLookAt(eye.x, eye.y, eye.z, target.x, target.y, target.z, false);
    void this.controls.zoomTo(zoom, false);
    this.requestFrame();
  }

  /** Turns to a named view and fits the part. */
  look(view: ViewName, smooth = true): void {
    const [x, y, z] = DIRECTIONS[view];
    const direction = new THREE.Vector3(x, y, z).normalize().multiplyScalar(this.sphere.radius * 4);
    const { center } = this.sphere;
    const eye = center.clone().add(direction);
    void this.controls.setLookAt(eye.x, eye.y, eye.z, center.x, center.y, center.z, smooth);
    this.fit(smooth);
  }

  fit(smooth = true): void {
    void this.controls.fitToSphere(new THREE.Sphere(this.sphere.center, this.sphere.radius * 1.06), smooth);
    this.requestFrame();
  }

  /** Marks faces as failed, and one set of them as the picked ones; picked edges are drawn over everything. */
  mark(failed: ReadonlySet<number>, picked: ReadonlySet<number>, pickedEdges: ReadonlySet<number> = new Set()): void {
    this.part.geometry.groups.forEach((group, i) => {
      const face = this.faceOfGroup[i] ?? -1;
      group.materialIndex = picked.has(face) ? 2 : failed.has(face) ? 1 : 0;
    });
    const shown = picked.size > 0 ? picked : failed;
    this.outline.geometry.dispose();
    this.outline.geometry = linesOf(
      this.model.mesh.edges.filter(
        (edge) => pickedEdges.has(edge.edgeId) || edge.faceIds.some((faceId) => shown.has(faceId)),
      ),
    );
    this.requestFrame();
  }

  /** The edge nearest to a point of the window, where one is as near as a fingertip and nothing is in front of it. */
  edgeAt(clientX: number, clientY: number): number | null {
    const caster = this.rayAt(clientX, clientY);
    const { width } = this.renderer.domElement.getBoundingClientRect();
    const mmPerPixel = (this.camera.right - this.camera.left) / this.camera.zoom / Math.max(1, width);
    caster.params.Line.threshold = EDGE_PIXELS * mmPerPixel;
    const face = this.firstHit(caster);
    const reachMm = (face?.distance ?? Number.POSITIVE_INFINITY) + 2 * caster.params.Line.threshold;
    const found = caster
      .intersectObject(this.edges)
      .filter(({ point, distance }) => distance <= reachMm && this.clip.distanceToPoint(point) >= 0)
      .map(({ point, index }) => ({ index: index ?? 0, offMm: caster.ray.distanceToPoint(point) }))
      .sort((a, b) => a.offMm - b.offMm);
    const [nearest] = found;
    return nearest === undefined ? null : edgeOfVertex(this.model.mesh.edges, nearest.index);
  }

  /** Shows pieces of missing and extra material in a part that is seen through; none puts the part back. */
  difference(pieces: readonly DifferencePiece[]): void {
    this.clearPieces();
    for (const { kind, positions, indices } of pieces) {
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute('position', new THREE.Float32BufferAttribute(positions, 3));
      geometry.setIndex([...indices]);
      const plain = geometry.toNonIndexed();
      plain.computeVertexNormals();
      const material = new THREE.MeshLambertMaterial({ color: this.colors[kind], side: THREE.DoubleSide });
      // Told apart without color too: what is extra is striped, what is missing is plain.
      const mesh = new THREE.Mesh(plain, kind === 'extra' ? striped(material) : material);
      const lines = new THREE.LineSegments(
        new THREE.EdgesGeometry(plain, 25),
        new THREE.LineBasicMaterial({ color: this.colors.ink }),
      );
      this.pieces.add(mesh, lines);
      geometry.dispose();
    }
    this.opacity = { ...this.opacity, part: pieces.length > 0 ? 0.3 : 1 };
    this.showThrough();
  }

  /**
   * Shows another part in the place of this one: with a `share` of 0 this one alone, with 1 the other alone, and both seen
   * through between.
   */
  compare(model: DisplayModel | null, share: number): void {
    if (model !== this.otherModel) {
      for (const { geometry } of [this.other, this.otherEdges]) geometry.dispose();
      this.other.geometry = model === null ? new THREE.BufferGeometry() : geometryOf(model);
      // One material for the whole part.
      this.other.geometry.clearGroups();
      this.otherEdges.geometry = model === null ? new THREE.BufferGeometry() : linesOf(model.mesh.edges);
      this.otherModel = model;
    }
    const shown = model === null ? 0 : share;
    this.opacity = { part: this.pieces.children.length > 0 ? 0.3 : 1 - shown, other: shown };
    this.showThrough();
  }

  private showThrough(): void {
    const set = (material: THREE.Material, opacity: number): void => {
      const solid = opacity >= 0.999;
      material.transparent = !solid;
      material.opacity = opacity;
      material.depthWrite = solid;
      material.needsUpdate = true;
    };
    const { part, other } = this.opacity;
    for (const material of this.part.material) set(material, part);
    set(this.other.material, other);
    this.part.visible = this.edges.visible = part > 0.01;
    this.other.visible = this.otherEdges.visible = other > 0.01;
    this.otherEdges.material.opacity = Math.max(0.25, other);
    (this.edges.material as THREE.LineBasicMaterial).transparent = other > 0;
    (this.edges.material as THREE.LineBasicMaterial).opacity = other > 0 ? Math.max(0.25, part) : 1;
    this.inside.visible = part >= 0.999;
    this.requestFrame();
  }

  /** Puts numbered marks on the part. */
  pins(pins: readonly ScenePin[]): void {
    this.clearPins();
    for (const pin of pins) this.pinned.add(spriteOf(pin, this.colors));
    this.requestFrame();
  }

  private clearPins(): void {
    for (const child of this.pinned.children)
      if (child instanceof THREE.Sprite) {
        child.material.map?.dispose();
        child.material.dispose();
      }
    this.pinned.clear();
  }

  private clearPieces(): void {
    for (const child of this.pieces.children)
      if (child instanceof THREE.Mesh || child instanceof THREE.LineSegments) {
        (child.geometry as THREE.BufferGeometry).dispose();
        (child.material as THREE.Material).dispose();
      }
    this.pieces.clear();
  }

  section(section: Section | null): void {
    if (section === null) {
      this.clip.set(new THREE.Vector3(0, 0, -1), 1e9);
    } else {
      const normal = new THREE.Vector3(...AXIS_NORMALS[section.axis]);
      const { min, max } = this.box;
      const at = min[section.axis] + (max[section.axis] - min[section.axis]) * section.share;
      const point = new THREE.Vector3();
      point[section.axis] = at;
      this.clip.setFromNormalAndCoplanarPoint(normal, point);
    }
    this.requestFrame();
  }

  private rayAt(clientX: number, clientY: number): THREE.Raycaster {
    const bounds = this.renderer.domElement.getBoundingClientRect();
    const pointer = new THREE.Vector2(
      ((clientX - bounds.left) / bounds.width) * 2 - 1,
      1 - ((clientY - bounds.top) / bounds.height) * 2,
    );
    const caster = new THREE.Raycaster();
    caster.setFromCamera(pointer, this.camera);
    return caster;
  }

  private firstHit(caster: THREE.Raycaster): THREE.Intersection | undefined {
    return caster.intersectObject(this.part).find(({ point }) => this.clip.distanceToPoint(point) >= 0);
  }

  /** The face and the place under a point of the window; null beside the part. */
  hitAt(clientX: number, clientY: number): Hit | null {
    const hit = this.firstHit(this.rayAt(clientX, clientY));
    if (hit?.faceIndex === undefined || hit.faceIndex === null) return null;
    const index = hit.faceIndex * 3;
    const group = this.part.geometry.groups.findIndex(({ start, count }) => index >= start && index < start + count);
    const { x, y, z } = hit.point;
    return { faceId: this.faceOfGroup[group] ?? null, at: [x, y, z] };
  }

  dispose(): void {
    this.clearPieces();
    this.clearPins();
    this.compare(null, 0);
    cancelAnimationFrame(this.frame);
    this.resizer.disconnect();
    this.controls.dispose();
    this.part.geometry.dispose();
    this.edges.geometry.dispose();
    this.outline.geometry.dispose();
    const materials = [
      ...this.part.material,
      this.inside.material,
      this.edges.material,
      this.outline.material,
      this.other.material,
      this.otherEdges.material,
    ];
    for (const material of materials.flat()) material.dispose();
    this.renderer.dispose();
    this.renderer.domElement.remove();
  }

  private resize(): void {
    const { clientWidth, clientHeight } = this.container;
    if (clientWidth === 0 || clientHeight === 0) return;
    this.renderer.setSize(clientWidth, clientHeight);
    const aspect = clientWidth / clientHeight;
    this.camera.left = -aspect * 100;
    this.camera.right = aspect * 100;
    this.camera.top = 100;
    this.camera.bottom = -100;
    this.camera.updateProjectionMatrix();
    this.fit(false);
  }

  private requestFrame(): void {
    if (this.frame !== 0) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      const moved = this.controls.update(this.clock.getDelta());
      // 22 points on the screen: the camera shows 200 units of its own over the height of the view.
      const size = (22 * 200) / (Math.max(1, this.container.clientHeight) * this.camera.zoom);
      for (const pin of this.pinned.children) pin.scale.set(size, size, 1);
      this.renderer.render(this.scene, this.camera);
      if (moved) this.requestFrame();
    });
  }
}
