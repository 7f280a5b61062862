export async function test(_args: string[] = []): Promise<number> { return 0; }
