import { Injectable, type PipeTransform } from '@nestjs/common';
import { Id } from '@ypsigraph/contract/vocabulary';
import { notFound } from './problem.ts';

/** An id from the address; what is none can't name anything. */
@Injectable()
export class IdPipe implements PipeTransform<string, string> {
  transform(value: string): string {
    const result = Id.safeParse(value);
    if (!result.success) throw notFound('thing');
    return result.data;
  }
}

/** The same, where it may be left out. */
@Injectable()
export class MaybeIdPipe implements PipeTransform<string | undefined, string | undefined> {
  transform = (value: string | undefined): string | undefined =>
    value === undefined ? undefined : new IdPipe().transform(value);
}
