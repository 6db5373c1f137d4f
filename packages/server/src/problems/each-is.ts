import { applyDecorators } from '@nestjs/common';
import { Type } from 'class-transformer';
import { IsObject, ValidateNested } from 'class-validator';

/**
 * Each entry of a list is an object as its class says.
 * By itself, the check of what is nested takes a list in a list for a list of such objects.
 */
export const EachIs = (entry: () => new () => object): PropertyDecorator =>
  applyDecorators(IsObject({ each: true }), ValidateNested({ each: true }), Type(entry));
