export { clearLight } from './clear.ts';
export { findSheet } from './find-sheet.ts';
export { isSheet, shrink, WHOLE, type Corners, type Picture, type Point } from './picture.ts';
export { straighten } from './warp.ts';
