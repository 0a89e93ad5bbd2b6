export * from './segments';
export * from './filename';
