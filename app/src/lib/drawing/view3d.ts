import { sectionLines, type SceneRays, type SceneView } from '@ulvex/core';
import {
  AmbientLight,
  Box3,
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  Color,
  DirectionalLight,
  DoubleSide,
  EdgesGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  NearestFilter,
  OrthographicCamera,
  Plane,
  Raycaster,
  RepeatWrapping,
  Scene,
  SRGBColorSpace,
  Vector2,
  Vector3,
  WebGLRenderer,
  type Object3D,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';

/** Where the view is seen from. */
export type Standpoint = 'oblique' | 'side' | 'front' | 'top';

/** What the faces are coloured by, and what of them is shown. */
export interface FaceLook {
  /** CSS colour, opacity and whether the face is the chosen one, by index of the face; null hides it. */
  readonly of: (face: SceneView['faces'][number]) => { readonly colour: string; readonly opacity: number } | null;
  readonly edge: string;
}

/** Matter that is cut, in the colour that it is filled with. */
export interface ShownFill {
  readonly positions: Float32Array;
  readonly colour: string;
}

/** Drawn before the faces that it lies in. */
const BEFORE_FACES = { polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -2 } as const;

/** A picture laid where a detector is. */
export interface MapPicture {
  readonly detector: string;
  readonly canvas: HTMLCanvasElement;
}

const AWAY: Readonly<Record<Standpoint, readonly [number, number, number]>> = {
  oblique: [-1, 0.55, -0.85],
  side: [-1, 0, 0],
  front: [0, 0, -1],
  top: [0, 1, 0],
};

/** What is under a place of the canvas. */
interface Picked {
  /** Index of the face. */
  readonly face: number;
  /** In the coordinates of the scene. */
  readonly point: readonly [number, number, number];
  readonly normal: readonly [number, number, number];
}

/** The drawing of a scene in space: y up, light toward +z, which goes to the right where it is seen from the side. Drawn on demand. */
export class View3D {
  readonly #renderer: WebGLRenderer;
  readonly #scene = new Scene();
  readonly #camera = new OrthographicCamera(-1, 1, 1, -1, -1e5, 1e5);
  readonly #controls: OrbitControls;
  /** What was in the middle of the frame when it was fitted last. */
  readonly #middle = new Vector3();
  readonly #bodies = new Group();
  readonly #rays = new Group();
  readonly #marks = new Group();
  readonly #maps = new Group();
  readonly #section = new Group();
  readonly #lamp = new DirectionalLight(0xffffff, 1.6);
  #view: SceneView | null = null;
  #faces: readonly Mesh[] = [];
  #cut: Plane | null = null;
  #asked = false;
  /**
   * What was replaced since the last frame. It is given back after the next one: materials that are alike share a shader, which would be compiled
   * again if the last of them went before the new ones are drawn.
   */
  readonly #stale: Object3D[] = [];
  readonly #onDrawn: () => void;

  /** @param onDrawn - after each frame: what is drawn over it moves along */
  constructor(canvas: HTMLCanvasElement, onDrawn: () => void) {
    const antialias = !drawnBySoftware();
    this.#renderer = new WebGLRenderer({ canvas, antialias, alpha: true, preserveDrawingBuffer: true });
    this.#renderer.localClippingEnabled = true;
    this.#onDrawn = onDrawn;
    this.#camera.up.set(0, 1, 0);
    this.#controls = new OrbitControls(this.#camera, canvas);
    this.#controls.addEventListener('change', () => this.draw());
    this.#scene.add(
      new AmbientLight(0xffffff, 1.9),
      this.#lamp,
      this.#bodies,
      this.#rays,
      this.#marks,
      this.#maps,
      this.#section,
    );
    this.lookFrom('oblique');
  }

  resize(width: number, height: number): void {
    if (width < 1 || height < 1) return;
    this.#renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.#renderer.setSize(width, height, false);
    const half = (this.#camera.top - this.#camera.bottom) / 2;
    this.#camera.left = (-half * width) / height;
    this.#camera.right = (half * width) / height;
    this.#camera.updateProjectionMatrix();
    this.draw();
  }

  /** Draws in the next frame, however often it is asked. */
  draw(): void {
    if (this.#asked) return;
    this.#asked = true;
    requestAnimationFrame(() => {
      this.#asked = false;
      this.#lamp.position.copy(this.#camera.position).sub(this.#controls.target).normalize();
      this.#lamp.position.add(new Vector3(-0.2, 0.6, 0.1));
      this.#renderer.render(this.#scene, this.#camera);
      for (const object of this.#stale.splice(0)) dispose(object);
      this.#onDrawn();
    });
  }

  /** mm that a pixel of the page is long. */
  get millimetresAPixel(): number {
    return (this.#camera.right - this.#camera.left) / this.#camera.zoom / this.#renderer.domElement.clientWidth;
  }

  /** Where x, y and z point to on the screen, as parts of their length. */
  axesOnScreen(): readonly (readonly [number, number])[] {
    return [0, 1, 2].map((axis) => {
      const direction = new Vector3().setComponent(axis, 1).transformDirection(this.#camera.matrixWorldInverse);
      return [direction.x, direction.y] as const;
    });
  }

  lookFrom(standpoint: Standpoint): void {
    const away = new Vector3(...AWAY[standpoint]).normalize().multiplyScalar(1000);
    this.#camera.up.set(0, standpoint === 'top' ? 0 : 1, standpoint === 'top' ? 1 : 0);
    if (standpoint === 'top') this.#camera.up.set(-1, 0, 0); // z to the right, as from the side
    this.#camera.position.copy(this.#controls.target).add(away);
    this.#camera.lookAt(this.#controls.target);
    this.#controls.update();
    this.#camera.up.set(0, 1, 0);
    this.draw();
  }

  /** Turns about the middle of what is seen, degrees to the right and up. */
  turn(right: number, up: number): void {
    const offset = this.#camera.position.clone().sub(this.#controls.target);
    const { radius } = { radius: offset.length() };
    const polar = Math.acos(offset.y / radius) - (up * Math.PI) / 180;
    const azimuth = Math.atan2(offset.x, offset.z) - (right * Math.PI) / 180;
    const held = Math.min(Math.PI - 0.01, Math.max(0.01, polar));
    offset
      .set(Math.sin(held) * Math.sin(azimuth), Math.cos(held), Math.sin(held) * Math.cos(azimuth))
      .multiplyScalar(radius);
    this.#camera.position.copy(this.#controls.target).add(offset);
    this.#controls.update();
    this.draw();
  }

  zoom(factor: number): void {
    this.#camera.zoom *= factor;
    this.#camera.updateProjectionMatrix();
    this.draw();
  }

  /** Fills the frame with what is given, or with everything. */
  fit(box?: { readonly min: readonly number[]; readonly max: readonly number[] } | null): void {
    const { min, max } = box ? new Box3(new Vector3(...box.min), new Vector3(...box.max)) : this.#everything();
    const middle = min.clone().add(max).multiplyScalar(0.5);
    const offset = this.#camera.position.clone().sub(this.#controls.target);
    this.#controls.target.copy(middle);
    this.#middle.copy(middle);
    this.#camera.position.copy(middle).add(offset.setLength(Math.max(1000, max.distanceTo(min) * 2)));
    this.#camera.lookAt(middle);
    this.#camera.updateMatrixWorld();
    const inverse = this.#camera.matrixWorldInverse.copy(this.#camera.matrixWorld).invert();
    let [wide, high] = [1e-3, 1e-3];
    for (let corner = 0; corner < 8; corner++) {
      const point = new Vector3(
        corner & 1 ? max.x : min.x,
        corner & 2 ? max.y : min.y,
        corner & 4 ? max.z : min.z,
      ).applyMatrix4(inverse);
      wide = Math.max(wide, Math.abs(point.x));
      high = Math.max(high, Math.abs(point.y));
    }
    const { clientWidth, clientHeight } = this.#renderer.domElement;
    const ratio = clientWidth / Math.max(1, clientHeight);
    const half = 1.12 * Math.max(high, wide / ratio);
    this.#camera.top = half;
    this.#camera.bottom = -half;
    this.#camera.left = -half * ratio;
    this.#camera.right = half * ratio;
    this.#camera.zoom = 1;
    this.#camera.updateProjectionMatrix();
    this.#controls.update();
    this.draw();
  }

  /** The box about all bodies, detectors and sources. */
  #everything(): Box3 {
    const all = new Box3();
    const box = this.#view?.box;
    if (box) all.set(new Vector3(...box.min), new Vector3(...box.max));
    for (const { origin } of this.#view?.sources ?? []) all.expandByPoint(new Vector3(...origin));
    return all.isEmpty() ? all.set(new Vector3(-10, -10, -10), new Vector3(10, 10, 10)) : all;
  }

  /** Whether some of it lies outside of the frame. */
  #sticksOut({ min, max }: Box3): boolean {
    return [0, 1, 2, 3, 4, 5, 6, 7].some((corner) => {
      const { x, y } = new Vector3(
        corner & 1 ? max.x : min.x,
        corner & 2 ? max.y : min.y,
        corner & 4 ? max.z : min.z,
      ).project(this.#camera);
      return Math.abs(x) > 1 || Math.abs(y) > 1;
    });
  }

  /**
   * Draws the bodies; a new version of the same scene keeps where it is seen from, unless something comes to lie outside of a frame that
   * nobody has zoomed or shifted.
   */
  setBodies(view: SceneView, look: FaceLook): void {
    const first = this.#view === null;
    this.#view = view;
    this.#clear(this.#bodies);
    const clipping = this.#cut ? { clippingPlanes: [this.#cut] } : {};
    this.#faces = view.faces.map((face) => {
      const shown = look.of(face);
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(face.triangles.positions, 3));
      geometry.setAttribute('normal', new BufferAttribute(face.triangles.normals, 3));
      geometry.setIndex(new BufferAttribute(face.triangles.indices, 1));
      const solid = (shown?.opacity ?? 1) >= 1;
      const mesh = new Mesh(
        geometry,
        new MeshLambertMaterial({
          color: new Color(shown?.colour ?? '#000'),
          opacity: shown?.opacity ?? 1,
          transparent: !solid,
          depthWrite: solid,
          side: DoubleSide,
          ...clipping,
        }),
      );
      mesh.visible = shown !== null;
      this.#bodies.add(mesh);
      if (shown) {
        const edges = new LineSegments(
          new EdgesGeometry(geometry, 30),
          new LineBasicMaterial({
            color: new Color(look.edge),
            opacity: 0.75,
            transparent: true,
            ...clipping,
          }),
        );
        this.#bodies.add(edges);
      }
      return mesh;
    });
    const untouched = this.#camera.zoom === 1 && this.#controls.target.equals(this.#middle);
    if (first || (untouched && this.#sticksOut(this.#everything()))) this.fit();
    this.draw();
  }

  /** Sources as arrows, maps of detectors as frames. */
  setMarks(view: SceneView, colour: (id: string) => string, frame: string): void {
    this.#clear(this.#marks);
    const size = view.box ? new Vector3(...view.box.max).distanceTo(new Vector3(...view.box.min)) * 0.04 : 3;
    for (const { id, origin, axis } of view.sources) {
      const [from, along] = [new Vector3(...origin), new Vector3(...axis).normalize()];
      const across = new Vector3(along.y, along.z, along.x).cross(along).normalize();
      const tip = from.clone().addScaledVector(along, size);
      const barb = (side: number) =>
        tip
          .clone()
          .addScaledVector(along, -0.3 * size)
          .addScaledVector(across, 0.18 * side * size);
      const points = [from, tip, tip, barb(1), tip, barb(-1)];
      this.#marks.add(
        new LineSegments(
          new BufferGeometry().setFromPoints(points),
          new LineBasicMaterial({ color: new Color(colour(id)) }),
        ),
      );
    }
    for (const { outline, pose } of view.detectors) {
      if (outline.length === 0) continue;
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(outline, 3));
      const lines = new LineSegments(
        geometry,
        new LineBasicMaterial({ color: new Color(frame), transparent: true, opacity: 0.8 }),
      );
      lines.matrixAutoUpdate = false;
      lines.matrix = matrixOf(pose);
      this.#marks.add(lines);
    }
    this.draw();
  }

  /** Rays; each piece by its colour and opacity, null excludes it. */
  setRays(rays: SceneRays, look: (piece: number) => { readonly colour: Color; readonly opacity: number } | null): void {
    this.#clear(this.#rays);
    const positions: number[] = [];
    const colours: number[] = [];
    for (let piece = 0; piece < rays.share.length; piece++) {
      const shown = look(piece);
      if (!shown) continue;
      for (let k = 0; k < 6; k++) positions.push(rays.ends[6 * piece + k]);
      const { r, g, b } = shown.colour;
      colours.push(r, g, b, shown.opacity, r, g, b, shown.opacity);
    }
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(Float32Array.from(positions), 3));
    geometry.setAttribute('color', new BufferAttribute(Float32Array.from(colours), 4));
    const lines = new LineSegments(
      geometry,
      new LineBasicMaterial({ vertexColors: true, transparent: true, depthWrite: false }),
    );
    lines.renderOrder = 2;
    this.#rays.add(lines);
    this.draw();
  }

  /** Pictures of what detectors hold, laid where they are. */
  setMaps(view: SceneView, maps: readonly MapPicture[]): void {
    this.#clear(this.#maps);
    for (const { detector, canvas } of maps) {
      const place = view.detectors.find(({ id }) => id === detector);
      if (!place?.laid) continue;
      const texture = new CanvasTexture(canvas);
      texture.colorSpace = SRGBColorSpace;
      texture.wrapS = RepeatWrapping; // triangles over the seam of a closed wall
      texture.magFilter = NearestFilter;
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(place.laid.positions, 3));
      geometry.setAttribute('uv', new BufferAttribute(place.laid.places, 2));
      const mesh = new Mesh(
        geometry,
        new MeshBasicMaterial({
          map: texture,
          transparent: true,
          opacity: 0.85,
          side: DoubleSide,
          depthWrite: false,
          clippingPlanes: this.#cut ? [this.#cut] : null,
          ...BEFORE_FACES,
        }),
      );
      mesh.matrixAutoUpdate = false;
      mesh.matrix = matrixOf(place.pose);
      mesh.renderOrder = 1;
      this.#maps.add(mesh);
    }
    this.draw();
  }

  /** Cuts the bodies open along the plane x = 0, so that the far half is seen, and draws the section: its lines, and what is cut filled. */
  cutOpen(open: boolean, ink: string, fills: readonly ShownFill[]): void {
    this.#cut = open ? new Plane(new Vector3(1, 0, 0), 0) : null;
    this.#clear(this.#section);
    for (const { positions, colour } of open ? fills : []) {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(positions, 3));
      const material = new MeshBasicMaterial({ color: new Color(colour), side: DoubleSide, ...BEFORE_FACES });
      this.#section.add(new Mesh(geometry, material));
    }
    if (open)
      for (const mesh of this.#faces) {
        if (!mesh.visible) continue;
        const { position } = mesh.geometry.attributes;
        const pieces = sectionLines(
          {
            positions: position.array as Float32Array,
            normals: mesh.geometry.attributes.normal.array as Float32Array,
            indices: mesh.geometry.index!.array as Uint32Array,
          },
          0,
          0,
        );
        if (pieces.length === 0) continue;
        const geometry = new BufferGeometry();
        geometry.setAttribute('position', new BufferAttribute(pieces, 3));
        this.#section.add(new LineSegments(geometry, new LineBasicMaterial({ color: new Color(ink) })));
      }
    for (const group of [this.#bodies, this.#maps])
      group.traverse((object) => {
        const material = (object as Mesh).material;
        if (material && !Array.isArray(material)) {
          material.clippingPlanes = this.#cut ? [this.#cut] : null;
          material.needsUpdate = true;
        }
      });
    this.draw();
  }

  /** The face under a place of the canvas (0 to 1 from its upper left corner), the point on it, and its normal there on the side that is seen. */
  pick(x: number, y: number): Picked | null {
    const caster = new Raycaster();
    caster.setFromCamera(new Vector2(2 * x - 1, 1 - 2 * y), this.#camera);
    const visible = this.#faces.filter(({ visible: shown }) => shown);
    for (const hit of caster.intersectObjects(visible, false)) {
      if (this.#cut && this.#cut.distanceToPoint(hit.point) < 0) continue;
      const { x: nx, y: ny, z: nz } = hit.normal ?? hit.face?.normal ?? caster.ray.direction;
      const { x: dx, y: dy, z: dz } = caster.ray.direction;
      const side = nx * dx + ny * dy + nz * dz > 0 ? -1 : 1;
      return {
        face: this.#faces.indexOf(hit.object as Mesh),
        point: [hit.point.x, hit.point.y, hit.point.z],
        normal: [side * nx, side * ny, side * nz],
      };
    }
    return null;
  }

  /** A place of the scene as a share of the canvas. */
  project(point: readonly [number, number, number]): readonly [number, number] {
    const at = new Vector3(...point).project(this.#camera);
    return [(at.x + 1) / 2, (1 - at.y) / 2];
  }

  /** Empties a group. */
  #clear(group: Group): void {
    this.#stale.push(...group.children);
    group.clear();
  }

  dispose(): void {
    for (const group of [this.#bodies, this.#rays, this.#marks, this.#maps, this.#section]) this.#clear(group);
    for (const object of this.#stale) dispose(object);
    this.#controls.dispose();
    this.#renderer.dispose();
  }
}

/** Gives back what an object holds on the graphics card. */
function dispose(given: Object3D): void {
  const object = given as Object3D & Partial<Mesh>;
  object.geometry?.dispose();
  const { material } = object;
  if (!material || Array.isArray(material)) return;
  (material as MeshBasicMaterial).map?.dispose();
  material.dispose();
}

function matrixOf({ shift, rotation: r }: SceneView['detectors'][number]['pose']): Matrix4 {
  return new Matrix4().set(
    r[0],
    r[1],
    r[2],
    shift[0],
    r[3],
    r[4],
    r[5],
    shift[1],
    r[6],
    r[7],
    r[8],
    shift[2],
    0,
    0,
    0,
    1,
  );
}

/** Whether no graphics card draws: smooth edges would cost more than they give. */
function drawnBySoftware(): boolean {
  const probe = new OffscreenCanvas(1, 1).getContext('webgl2');
  const info = probe?.getExtension('WEBGL_debug_renderer_info');
  const name = probe && info ? String(probe.getParameter(info.UNMASKED_RENDERER_WEBGL)) : '';
  probe?.getExtension('WEBGL_lose_context')?.loseContext();
  return /swiftshader|llvmpipe|software/i.test(name);
}
