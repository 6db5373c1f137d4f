import { ApiProperty } from '@nestjs/swagger';

export class PlaceDto {
  @ApiProperty({ type: String }) file: string;
  @ApiProperty({ type: Number, description: 'From 1' }) line: number;
  @ApiProperty({ type: Number, description: 'From 1, in UTF-16 units' }) column: number;
}

export class PlacedProblemDto {
  @ApiProperty({ type: String }) code: string;
  @ApiProperty({ type: String }) message: string;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
  @ApiProperty({ type: Boolean, description: 'While it stands, nothing can be resolved' })
  isBlocking: boolean;
}

/** RFC 9457. */
export class ProblemDto {
  @ApiProperty({ type: String }) type: string;
  @ApiProperty({ type: String }) title: string;
  @ApiProperty({ type: Number }) status: number;
  @ApiProperty({ type: String }) detail: string;
  @ApiProperty({ type: String, description: 'Stable; match on this' }) code: string;
  @ApiProperty({ type: [PlacedProblemDto] }) problems: PlacedProblemDto[];
}
