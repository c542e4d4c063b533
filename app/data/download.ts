/** Only the web target saves files so far. */
export function download(_path: string): void {}
