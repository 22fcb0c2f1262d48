/** Width of the names and height of a row, in CSS pixels. */
export const NAMES_PX = 176;
export const ROW_PX = 28;
