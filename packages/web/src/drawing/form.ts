export { usualForm as formOf } from '@contactum/core';
