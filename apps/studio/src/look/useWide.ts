import { useWindowDimensions } from 'react-native';

/** How wide a screen is, in points, from which on things stand beside each other that come one after the other on a phone. */
const WIDE = 900;

/** Whether the screen is a wide one. */
export const useWide = (): boolean => useWindowDimensions().width >= WIDE;
