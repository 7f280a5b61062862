export async function bench(_args: string[] = []): Promise<number> { return 0; }
