/** Triangle solids: mesh files in and out, welding, closedness, exact mass properties, and the surfaces behind the facets. */
export { isObj, readObj } from './obj.ts';
export { polyhedronProperties } from './properties.ts';
export { solidOfMesh } from './solid.ts';
export { isAsciiStl, isBinaryStl, readStl } from './stl.ts';
export { isPly, readPly } from './ply.ts';
export { read3mf } from './threemf.ts';
export { MAX_TRIANGLES, type MeshFile, type Triangles } from './triangles.ts';
export { extentsOf, guessUnit } from './unit.ts';
export { weldExact } from './weld.ts';
export { trianglesOf, write3mf, writeStl } from './write.ts';
