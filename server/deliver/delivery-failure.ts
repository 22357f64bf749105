/** Something that could not be delivered, told to whoever set it up. */
export class DeliveryFailure extends Error {
  override readonly name = 'DeliveryFailure';

  /**
   * @param final trying again cannot help
   * @param silent the other side did not answer at all
   */
  constructor(
    message: string,
    readonly final = false,
    cause?: unknown,
    readonly silent = false,
  ) {
    super(message, { cause });
  }
}
