/** What is paid off first carries the most ink. */
export const INKS = [0.46, 0.36, 0.27, 0.18, 0.1];
