// Pages are rendered in the browser: the data lives there.
export const ssr = false;
export const prerender = false;
