import type { SectionSurface } from '@ulvex/core';
import type { Desk } from '../desk/desk.svelte.ts';
import { fitFrame, panned, shownSpan, zoomed, type ChartFrame, type Span } from './chart-frame.ts';
import { dragGesture, type DragStart, type Handle } from './drag.ts';

/** How far a handle goes of what the mouse does, with Shift held. */
const FINE = 0.1;

/** What the hand needs of the drawing that it works in. */
export interface Drawing {
  readonly bounds: Span;
  readonly width: number;
  readonly height: number;
  readonly element: SVGSVGElement | undefined;
}

/** Zooming, panning and dragging in a section drawing; events go in, the frame and previews on the desk come out. */
export class SectionHand {
  readonly #desk: Desk;
  readonly #drawing: () => Drawing;
  /** What is shown after zooming or panning, or while something is dragged; null fits everything. */
  view = $state.raw<Span | null>(null);
  /** What the mouse has taken hold of. */
  held = $state.raw<{ readonly start: DragStart; readonly fitted: boolean } | null>(null);
  /** Whether clicks measure, and the points that were clicked; the second follows the mouse until it is. */
  measuring = $state(false);
  ruled = $state.raw<readonly (readonly [z: number, y: number])[] | null>(null);
  #ruling = false;
  /** Where what is held would be, and where the mouse was last, mm. */
  #at: readonly [z: number, y: number] = [0, 0];
  #mouse: readonly [z: number, y: number] = [0, 0];
  #panning: { readonly from: Span; readonly x: number; readonly y: number } | null = null;

  constructor(desk: Desk, drawing: () => Drawing) {
    this.#desk = desk;
    this.#drawing = drawing;
  }

  get frame(): ChartFrame {
    const { bounds, width, height } = this.#drawing();
    return this.view ? fitFrame(this.view, width, height, 0) : fitFrame(bounds, width, height);
  }

  fit(): void {
    this.view = null;
  }

  wheel(event: WheelEvent): void {
    event.preventDefault();
    this.#zoom(event.deltaY < 0 ? 1.2 : 1 / 1.2, ...this.#pointAt(event));
  }

  /** Takes hold of a handle; the picture stands still while something in it is moved. */
  take(event: PointerEvent, handle: Handle, surface: SectionSurface): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.preventDefault();
    // A handle that is taken beside its middle does not jump there.
    const box = (event.currentTarget as Element).getBoundingClientRect();
    const [z, y] = this.#pointAt({ clientX: box.x + box.width / 2, clientY: box.y + box.height / 2 });
    [this.#at, this.#mouse] = [[z, y], this.#pointAt(event)];
    this.held = {
      start: { handle, surface, z, y },
      fitted: this.view === null,
    };
    this.view ??= shownSpan(this.frame);
    this.#drawing().element?.setPointerCapture(event.pointerId);
  }

  /** Begins or ends measuring. */
  measure(on = !this.measuring): void {
    this.measuring = on;
    this.ruled = null;
    this.#ruling = false;
  }

  down(event: PointerEvent): void {
    if (event.button === 0 && this.measuring) {
      const at = this.#pointAt(event);
      this.ruled = this.#ruling && this.ruled ? [this.ruled[0], at] : [at, at];
      this.#ruling = !this.#ruling;
      return;
    }
    if (event.button === 0) this.#panning = { from: shownSpan(this.frame), x: event.clientX, y: event.clientY };
  }

  move(event: PointerEvent): void {
    if (this.held) {
      const gesture = dragGesture(this.#desk.lensIn(this.#desk.project)!, this.held.start, ...this.#follow(event));
      if (gesture.ok) this.#desk.preview(gesture.value.edits);
    } else if (this.#ruling && this.ruled) {
      this.ruled = [this.ruled[0], this.#pointAt(event)];
    } else if (this.#panning && event.buttons === 1) {
      const [dx, dy] = [event.clientX - this.#panning.x, event.clientY - this.#panning.y];
      const { scale } = this.frame;
      if (Math.hypot(dx, dy) > 3) this.view = panned(this.#panning.from, -dx / scale, dy / scale);
    }
  }

  up(event: PointerEvent): void {
    this.#panning = null;
    if (!this.held) return;
    const { start, fitted } = this.held;
    const [z, y] = this.#follow(event);
    this.held = null;
    if (fitted) this.view = null;
    if (z === start.z && y === start.y) return;
    const gesture = dragGesture(this.#desk.lensIn(this.#desk.project)!, start, z, y);
    if (gesture.ok) this.#desk.commit(gesture.value.edits, gesture.value.label);
    else {
      this.#desk.endPreview();
      this.#desk.notice = { tone: 'refused', title: gesture.reason };
    }
  }

  letGo(): void {
    if (this.held?.fitted) this.view = null;
    this.held = null;
    this.#panning = null;
    this.#desk.endPreview();
  }

  /** Plus and minus zoom, arrows pan, 0 fits, M measures, Esc lets go of what is dragged. */
  key(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const span = shownSpan(this.frame);
    const middle = [(span.z[0] + span.z[1]) / 2, (span.y[0] + span.y[1]) / 2] as const;
    const step = 0.1 * (span.z[1] - span.z[0]);
    const pan = (dz: number, dy: number) => () => (this.view = panned(span, dz, dy));
    const does: Readonly<Record<string, () => void>> = {
      '+': () => this.#zoom(1.25, ...middle),
      '=': () => this.#zoom(1.25, ...middle),
      '-': () => this.#zoom(0.8, ...middle),
      '0': () => this.fit(),
      ArrowLeft: pan(-step, 0),
      ArrowRight: pan(step, 0),
      ArrowUp: pan(0, step),
      ArrowDown: pan(0, -step),
      m: () => this.measure(),
      Escape: () => {
        this.measure(false);
        this.letGo();
      },
    };
    if (!does[event.key]) return;
    event.preventDefault();
    does[event.key]();
  }

  #zoom(factor: number, z: number, y: number): void {
    const next = zoomed(shownSpan(this.frame), factor, z, y);
    const span = next.z[1] - next.z[0];
    if (span > 1e-6 && span < 1e9) this.view = next;
  }

  /** Where the mouse brings what is held: as far as it goes itself, with Shift a tenth of it. */
  #follow(event: PointerEvent): readonly [z: number, y: number] {
    const mouse = this.#pointAt(event);
    const share = event.shiftKey ? FINE : 1;
    this.#at = [this.#at[0] + share * (mouse[0] - this.#mouse[0]), this.#at[1] + share * (mouse[1] - this.#mouse[1])];
    this.#mouse = mouse;
    return this.#at;
  }

  /** The mouse in model coordinates, mm. */
  #pointAt(event: Pick<MouseEvent, 'clientX' | 'clientY'>): [z: number, y: number] {
    const box = this.#drawing().element!.getBoundingClientRect();
    const { left, top, height, scale, z0, y0 } = this.frame;
    return [z0 + (event.clientX - box.left - left) / scale, y0 + (top + height - (event.clientY - box.top)) / scale];
  }
}
