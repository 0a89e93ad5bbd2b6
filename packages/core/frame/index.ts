export * from './frames';
export * from './placement';
export * from './framing';
export * from './handling';
export * from './panZoom';
export * from './layers';
export { TRANSITIONS } from './transitions';
export * from './evaluate';
