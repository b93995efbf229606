//! Documents that older releases wrote, as they are read now.

use serde_json::{Value, json};

/// A point once carried its nameplate watts itself: takes them out of its document, and gives the document of the load
/// that they are of. It has the point's number.
#[must_use]
pub fn load_of_point(point: &mut Value) -> Option<Value> {
    let fields = point.as_object_mut()?;
    let watts = fields.remove("watts").filter(|watts| !watts.is_null())?;
    let name = ["name", "kind"].iter().find_map(|field| fields.get(*field)?.as_str().filter(|text| !text.is_empty()));
    Some(json!({ "id": fields.get("id"), "point": fields.get("id"), "name": name, "kind": "other", "watts": watts }))
}

/// The same for a whole house.
pub fn loads_of_points(house: &mut Value) {
    let points = house.get_mut("points").and_then(Value::as_array_mut);
    let moved: Vec<Value> = points.into_iter().flatten().filter_map(load_of_point).collect();
    if let Some(fields) = house.as_object_mut().filter(|_| !moved.is_empty()) {
        let loads = fields.entry("loads").or_insert_with(|| json!([]));
        if let Some(loads) = loads.as_array_mut() {
            loads.extend(moved);
        }
    }
}

/// The same for the edits of a change.
pub fn loads_of_edits(edits: &mut Value) {
    let Some(list) = edits.as_array_mut() else { return };
    let mut moved = Vec::new();
    for edit in list.iter_mut().filter(|edit| edit["thing"] == "point") {
        let [before, after] = ["before", "after"].map(|side| edit.get_mut(side).and_then(load_of_point));
        if before.is_some() || after.is_some() {
            moved.push(json!({ "thing": "load", "before": before, "after": after }));
        }
    }
    list.extend(moved);
}
