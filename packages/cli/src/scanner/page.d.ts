import { type Express } from 'express';
import type { SimulatedBox } from './simulated.js';
/** The page of a simulated box: leads are plugged, made loose, and the box is made to fail. */
export declare function boxPage(box: SimulatedBox): Express;
