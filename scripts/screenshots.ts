export async function screenshots(_args: string[] = []): Promise<number> { return 0; }
