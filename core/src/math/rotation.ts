/**
 * Rotation matrix Rx(tiltX)·Ry(tiltY)·Rz(tiltZ), row by row in nine numbers; it takes local to base coordinates.
 *
 * @param tiltX - right-handed angle about x in degrees; likewise tiltY, tiltZ
 */
export function rotationXYZ(tiltX: number, tiltY: number, tiltZ: number): Float64Array {
  const radians = Math.PI / 180;
  const [cx, sx] = [Math.cos(tiltX * radians), Math.sin(tiltX * radians)];
  const [cy, sy] = [Math.cos(tiltY * radians), Math.sin(tiltY * radians)];
  const [cz, sz] = [Math.cos(tiltZ * radians), Math.sin(tiltZ * radians)];
  return Float64Array.of(
    cy * cz,
    -cy * sz,
    sy,
    cx * sz + sx * sy * cz,
    cx * cz - sx * sy * sz,
    -sx * cy,
    sx * sz - cx * sy * cz,
    sx * cz + cx * sy * sz,
    cx * cy,
  );
}
