export * from './draw';
