/** Under these keys a handler carries whom it lets in, and its route. */
export const AUDIENCE = 'audience';
export const ROUTE = 'route';
