/** Variants: exercises that are equally hard and not the same, made from one exercise by a seed. */
export { LONGEST_SEED, exerciseVariant, type ExerciseVariant } from './variant.js';
