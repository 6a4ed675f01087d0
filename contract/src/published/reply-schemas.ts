/**
 * JSON schemas of what the routes answer, made from the types in `replies.ts`. Types that are themselves derived from a schema
 * (settings, requests) are not taken apart: their schema stands for them.
 */
import { fileURLToPath } from "node:url";
import {
  BaseType,
  type CompletedConfig,
  createFormatter,
  createParser,
  createProgram,
  DEFAULT_CONFIG,
  DefinitionType,
  SchemaGenerator,
  type SubNodeParser,
  type SubTypeFormatter,
} from "ts-json-schema-generator";
import { SHARED_SCHEMAS } from "../schemas.ts";

/** A type whose schema is there already. */
class SharedType extends BaseType {
  readonly name: string;

  constructor(name: string) {
    super();
    this.name = name;
  }

  override getId(): string {
    return `shared-${this.name}`;
  }
}

const isShared = (name: string): boolean => Object.hasOwn(SHARED_SCHEMAS, name);

const sharedReferences: SubNodeParser = {
  supportsNode: (node) => "typeName" in node && isShared(node.getText()),
  createType: (node) => new DefinitionType(node.getText(), new SharedType(node.getText())),
};

const sharedSchemas: SubTypeFormatter = {
  supportsType: (type) => type instanceof SharedType,
  getDefinition: (type) => SHARED_SCHEMAS[(type as SharedType).name]!,
  getChildren: () => [],
};

const pathOf = (file: string): string => fileURLToPath(new URL(file, import.meta.url));

/** One schema with all of `Replies` as its properties, and its definitions. */
export function makeReplySchemas(): object {
  const config: CompletedConfig = {
    ...DEFAULT_CONFIG,
    ...{ path: pathOf("../replies.ts"), tsconfig: pathOf("../../tsconfig.json"), type: "Replies" },
    ...{ skipTypeCheck: true, additionalProperties: false, topRef: false, sortProps: true },
  };
  const program = createProgram(config);
  const parser = createParser(program, config, (chain) => void chain.addNodeParser(sharedReferences));
  const formatter = createFormatter(config, (chain) => void chain.addTypeFormatter(sharedSchemas));
  return new SchemaGenerator(program, parser, formatter, config).createSchema("Replies");
}
