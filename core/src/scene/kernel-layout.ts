/**
 * Where the compiled tracer (`core/kernels/scene`, AssemblyScript) and `block-tracer.ts` find things in the memory they share: offsets in
 * bytes within records of fixed size. Both languages read this file.
 */

/** A ray under way. f64 up to FIRST and AT; keys, counts and indices are 32 bits, bodies 16. */
export const RAY_SIZE = 128;
export const RAY_X = 0;
export const RAY_Y = 8;
export const RAY_Z = 16;
export const RAY_L = 24;
export const RAY_M = 32;
export const RAY_N = 40;
export const RAY_FLUX = 48;
/** Flux of its launch. */
export const RAY_FIRST = 56;
export const RAY_KEY_A = 64;
export const RAY_KEY_B = 68;
export const RAY_DRAWS = 72;
export const RAY_WAVE = 88;
/** Bits: 1 until its first step is done, 2 where it comes from an aimed ray. */
export const RAY_FRESH = 92;
export const MARK_FRESH = 1;
export const MARK_AIMED = 2;
export const RAY_SOURCE = 96;
export const RAY_EVENTS = 100;
/** How many bodies it is in, and which, the innermost last. */
export const RAY_DEPTH = 104;
export const RAY_STACK = 108;
export const DEPTH = 8;

/** A face: the motion to its own coordinates (rotation by rows, shift), numbers of its form, indices. */
export const FACE_SIZE = 256;
export const FACE_SHIFT = 72;
export const FACE_NUMBERS = 96;
export const FACE_FORM = 176;
export const FACE_INNER = 180;
export const FACE_OUTER = 184;
export const FACE_THROUGH = 188;
/** Whether it is moved without being turned. */
export const FACE_UPRIGHT = 192;
/** Whether it lets nothing in and spreads nothing, and is a form that the compiled tracer knows: an absorber or mirror of fixed share. */
export const FACE_PLAIN = 236;
/** The share that it reflects then, f64. */
export const FACE_SHARE = 240;
/** Its finishes, one for each wavelength. */
export const FACE_OPTICS = 196;
/** Its detectors: how many, and the list of their indices. */
export const FACE_DETECTORS = 200;
export const FACE_DETECTOR_LIST = 204;
/** Corners of a polygon and holes of a flat face: how many, and where. */
export const FACE_CORNERS = 208;
export const FACE_CORNER_LIST = 212;
export const FACE_HOLES = 216;
export const FACE_HOLE_LIST = 220;
/** Absorbed flux, f64. */
export const FACE_ABSORBED = 224;
/** The mesh it is, if it is one. */
export const FACE_MESH = 232;

/** A mesh: where its nodes and its pairs of triangles stand; the face's numbers are its lower and upper bounds. */
export const MESH_SIZE = 16;
export const MESH_BOXES = 0;
export const MESH_PAIRS = 4;

export const FORM_FOREIGN = 0;
export const FORM_QUADRIC = 1;
export const FORM_FLAT = 2;
export const FORM_MESH = 3;

/** A finish at one wavelength. */
export const FINISH_SIZE = 64;
export const FINISH_KIND = 0;
export const FINISH_OPAQUE = 4;
/** How what is reflected and what goes through is spread: see SPREAD. */
export const FINISH_REFLECTED = 8;
export const FINISH_TRANSMITTED = 12;
/** f64: shares reflected and let through, or n and k of a metal. */
export const FINISH_FIRST = 16;
export const FINISH_SECOND = 24;
/** f64: shares of both that are spread evenly. */
export const FINISH_EVEN_R = 32;
export const FINISH_EVEN_T = 40;

export const FINISH_FOREIGN = 0;
export const FINISH_FIXED = 1;
export const FINISH_BARE = 2;
export const FINISH_METAL = 3;

export const SPREAD_NONE = 0;
export const SPREAD_EVEN = 1;
export const SPREAD_FOREIGN = 2;

/** A body; index and absorption for each wavelength stand in lists of their own. The last one is what is around. */
export const SOLID_SIZE = 32;
export const SOLID_SCATTERING = 0;
export const SOLID_ASYMMETRY = 8;
export const SOLID_ABSORBED = 16;

export const DETECTOR_SIZE = 192;
export const DETECTOR_X = 0;
export const DETECTOR_Y = 8;
export const DETECTOR_ACROSS = 16;
export const DETECTOR_UP = 24;
export const DETECTOR_COLUMNS = 32;
export const DETECTOR_ROWS = 36;
export const DETECTOR_MAP = 40;
export const DETECTOR_PHOTOMETRIC = 44;
export const DETECTOR_COUNTS = 48;
export const DETECTOR_FAR = 52;
export const DETECTOR_HITS = 56;
/** flux, flux·x, flux·y, flux·x², flux·y². */
export const DETECTOR_MOMENTS = 64;
/** The turn of a map of the far field, nine numbers by rows. */
export const DETECTOR_TURN = 104;

/** How its map is wrapped round its face: see CHART; f64 its radius. */
export const DETECTOR_CHART = 184;
export const DETECTOR_RADIUS = 176;

export const CHART_FLAT = 0;
export const CHART_CYLINDER = 1;
export const CHART_SPHERE = 2;

export const COUNTS_INCIDENT = 0;
export const COUNTS_ABSORBED = 1;
export const COUNTS_LEAVING = 2;

/** What the tracer is told about a scene: addresses, counts, choices. */
export const SCENE_SIZE = 256;
export const SCENE_FACES = 0;
export const SCENE_FACE_COUNT = 4;
export const SCENE_NODES = 8;
export const SCENE_FIRST = 12;
export const SCENE_COUNT = 16;
export const SCENE_ORDER = 20;
export const SCENE_SOLIDS = 24;
export const SCENE_SOLID_COUNT = 28;
export const SCENE_INDICES = 32;
export const SCENE_ABSORPTION = 36;
export const SCENE_WAVE_COUNT = 40;
export const SCENE_DETECTORS = 44;
export const SCENE_DETECTOR_COUNT = 48;
export const SCENE_LUMENS = 52;
export const SCENE_MET = 56;
export const SCENE_SPLIT = 60;
export const SCENE_EVENTS = 64;
export const SCENE_RAYS = 68;
export const SCENE_THRESHOLD = 72;
/** Whether what is around all bodies has an index and takes no light. */
export const SCENE_CLEAR = 128;
/** Whether any detector is a block of cells. */
export const SCENE_VOLUMES = 136;
/** How many balls scattered light is aimed at. */
export const SCENE_AIMS = 132;
/** f64 each: detected, absorbed, in bodies, escaped, cut off, by lot. */
export const SCENE_LEDGER = 80;

export const MISHAP_OVERLAP = 0;
export const MISHAP_LEAK = 1;
export const MISHAP_OPAQUE = 2;

/** Up to so many faces are all tried: boxes about them would cost more. */
export const FEW = 6;
/** Sets the keys of children apart. */
export const CHILD = 0x85ebca6b;
/** Sets the keys of children to different aims apart. */
export const AIMED_CHILD = 0x27d4eb2f;

/** A source that the compiled tracer launches by itself: motion from its own coordinates (rotation by rows, shift), numbers, indices. */
export const LAUNCH_SIZE = 256;
export const LAUNCH_SHIFT = 72;
/** f64 each: see the kinds of region and law. */
export const LAUNCH_REGION = 96;
export const LAUNCH_LAW = 112;
export const LAUNCH_FLUX = 120;
export const LAUNCH_REGION_KIND = 128;
export const LAUNCH_LAW_KIND = 132;
export const LAUNCH_KEY_A = 136;
export const LAUNCH_KEY_B = 140;
export const LAUNCH_SOURCE = 144;
/** Its wavelengths: how many, their indices, and the shares up to each. */
export const LAUNCH_LINES = 148;
export const LAUNCH_LINE_LIST = 152;
export const LAUNCH_BELOW = 156;
/** Index of the next point of its sequence, the digits of its coordinates, and where the direction numbers stand: 8 words a bit, by coordinate. */
export const LAUNCH_INDEX = 160;
export const LAUNCH_DIGITS = 164;
export const LAUNCH_DIRECTIONS = 188;
export const LAUNCH_DEPTH = 192;
export const LAUNCH_STACK = 196;

/** Square of the inner radius, and how much the outer one's is larger. */
export const REGION_DISC = 0;
/** Width and height. */
export const REGION_RECTANGLE = 1;
/** The largest sine, evenly over its square. */
export const LAW_SINE = 0;
/** How far the cosine falls below 1, evenly. */
export const LAW_DEPTH = 1;

/** How far behind a ray a face of a body may lie that it should have met, mm: rounding, and faces that touch. */
export const BEHIND = 1e-7;
/** A free face is left behind when it is this near, mm. */
export const NEAR = 1e-7;
