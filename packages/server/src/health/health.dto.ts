import { ApiProperty } from '@nestjs/swagger';

export class PartHealthDto {
  @ApiProperty({ enum: ['up', 'down'] }) state: 'up' | 'down';
  @ApiProperty({ type: String, description: 'Version, or what is wrong' }) detail: string;
}

export class RegistryHealthDto extends PartHealthDto {
  @ApiProperty({ type: String }) url: string;
}

export class HealthDto {
  @ApiProperty({ enum: ['up'] }) state: 'up';
}

export class PartsHealthDto {
  @ApiProperty({
    enum: ['up', 'impaired', 'down'],
    description: 'down: database or git; impaired: a registry',
  })
  state: 'up' | 'impaired' | 'down';
  @ApiProperty({ type: PartHealthDto }) database: PartHealthDto;
  @ApiProperty({ type: PartHealthDto }) git: PartHealthDto;
  @ApiProperty({
    type: [RegistryHealthDto],
    description: 'Of every registry that a workspace uses',
  })
  registries: RegistryHealthDto[];
}
