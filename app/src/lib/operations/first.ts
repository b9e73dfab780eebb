import { OPERATION_TITLES } from '@ulvex/core';

/** Id of the operation that is offered first. */
export const FIRST_OPERATION = Object.keys(OPERATION_TITLES)[0];
