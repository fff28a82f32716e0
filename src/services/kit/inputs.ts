import {
  IsString,
  MaxLength,
} from './validation'; /** What the outside may send. The OpenAPI document is made from these classes. */

export const LONGEST_TEXT = 1_600;

export const tooLong = (most: number) => ({ message: `is too long: at most ${most} characters.` });

export const words = (example: string) => ({ message: `must be text, such as "${example}".` });

export class TextBodyInput {
  @IsString({ message: 'must be text.' })
  @MaxLength(LONGEST_TEXT, tooLong(LONGEST_TEXT))
  body!: string;
}
