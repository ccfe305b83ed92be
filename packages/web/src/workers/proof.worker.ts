import { expose } from 'comlink';
import { provedSoFar } from '@contactum/core';

/** Proves a wiring while it is being made. */
const proof = { soFar: provedSoFar };

export type ProofThread = typeof proof;

expose(proof);
