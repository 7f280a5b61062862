/** A request that is sent from a form, as far as the parts of the form need it. */
export interface Sending<Input, Answer = unknown> {
  readonly mutate: (input: Input, options?: { readonly onSuccess?: (answer: Answer) => void }) => void;
  readonly isPending: boolean;
  readonly error: Error | null;
}
