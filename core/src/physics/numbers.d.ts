/** Types of AssemblyScript, which compiles the files of this folder too: see docs/internals.md. */
type f64 = number;
type i32 = number;
type bool = boolean;
