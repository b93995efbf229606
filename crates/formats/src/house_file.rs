//! The house file `*.wayfinder.json` and its JSON Schema (2020-12).

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use utoipa::openapi::{RefOr, Schema};
use utoipa::{PartialSchema, ToSchema};
use wayfinder_core::house::older;
use wayfinder_core::{House, Invalid};

/// What the file says it is. The number grows when older programs could not read it right.
const FORMAT: &str = "wayfinder-house/1";
const FAMILY: &str = "wayfinder-house/";

#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct File<H> {
    format: String,
    house: H,
}

/// Why a house file cannot be read.
#[derive(Debug, thiserror::Error)]
pub enum Unreadable {
    /// No JSON, or not of this shape.
    #[error("this is not a house file: {0}")]
    Shape(#[from] serde_json::Error),
    /// Made by a newer program.
    #[error("this file has the format \"{0}\"; this program reads {FORMAT}. Use a newer version of the program")]
    Newer(String),
    /// Says it is something else.
    #[error("this is not a house file: its format is \"{0}\"")]
    Other(String),
    /// The house in it cannot be.
    #[error("the house in the file does not hold together: {0}")]
    Impossible(#[from] Invalid),
}

/// Reads a house file.
///
/// # Errors
/// [`Unreadable`], without taking anything over.
pub fn read(text: &str) -> Result<House, Unreadable> {
    #[derive(Deserialize)]
    struct Head {
        format: String,
    }
    let Head { format } = serde_json::from_str(text)?;
    if format != FORMAT {
        let known = format.starts_with(FAMILY);
        return Err(if known { Unreadable::Newer(format) } else { Unreadable::Other(format) });
    }
    let mut file: Value = serde_json::from_str(text)?;
    if let Some(house) = file.get_mut("house") {
        older::loads_of_points(house);
    }
    let File { house, .. } = serde_json::from_value::<File<House>>(file)?;
    house.check()?;
    Ok(house)
}

/// Writes a house file, indented, with a line feed at its end.
///
/// # Errors
/// Where a number in the house is not finite; checked houses have none.
pub fn write(house: &House) -> Result<String, serde_json::Error> {
    let mut text = serde_json::to_string_pretty(&File { format: FORMAT.to_owned(), house })?;
    text.push('\n');
    Ok(text)
}

/// The JSON Schema of the house file, made from the types.
///
/// # Errors
/// Where a schema cannot be written as JSON.
pub fn schema() -> Result<Value, serde_json::Error> {
    let mut parts: Vec<(String, RefOr<Schema>)> = Vec::new();
    House::schemas(&mut parts);
    parts.push((House::name().into_owned(), House::schema()));
    let mut definitions = Map::new();
    for (name, schema) in parts {
        definitions.insert(name, serde_json::to_value(schema)?);
    }
    let schema = json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Wayfinder house file",
        "type": "object",
        "required": ["format", "house"],
        "additionalProperties": false,
        "properties": { "format": { "const": FORMAT }, "house": { "$ref": "#/components/schemas/House" } },
        "$defs": definitions,
    });
    let text = schema.to_string().replace("#/components/schemas/", "#/$defs/");
    let mut schema = serde_json::from_str(&text)?;
    close_variants(&mut schema);
    Ok(schema)
}

/// Makes one object of a variant and its tag. Made of two, as `allOf`, neither allows what the other has: a document could
/// never be right.
pub fn close_variants(document: &mut Value) {
    let whole = document.clone();
    let find = |reference: &str| whole.pointer(reference.trim_start_matches('#')).cloned();
    visit(document, &find);
}

fn visit(node: &mut Value, find: &impl Fn(&str) -> Option<Value>) {
    if let Some(joined) = joined(node, find) {
        *node = joined;
    }
    match node {
        Value::Object(fields) => fields.values_mut().for_each(|value| visit(value, find)),
        Value::Array(items) => items.iter_mut().for_each(|value| visit(value, find)),
        _ => {}
    }
}

/// The closed object of `allOf: [{ $ref }, { the tag }]`.
fn joined(node: &Value, find: &impl Fn(&str) -> Option<Value>) -> Option<Value> {
    let [variant, tag] = node.get("allOf")?.as_array()?.as_slice() else { return None };
    let mut whole = find(variant.get("$ref")?.as_str()?)?;
    (whole.get("additionalProperties")? == &Value::Bool(false)).then_some(())?;
    let fields = whole.get_mut("properties")?.as_object_mut()?;
    fields.extend(tag.get("properties")?.as_object()?.clone());
    let mut required = whole.get("required").and_then(Value::as_array).cloned().unwrap_or_default();
    required.extend(tag.get("required")?.as_array()?.clone());
    whole["required"] = Value::Array(required);
    if let Some(description) = node.get("description") {
        whole["description"] = description.clone();
    }
    Some(whole)
}
