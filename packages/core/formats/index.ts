export * from './captionFile';
export * from './cubeFile';
