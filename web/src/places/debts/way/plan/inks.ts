/** Neighbours in the stack differ by how much ink they carry. */
export const INKS = [0.34, 0.12, 0.24, 0.07, 0.17];
