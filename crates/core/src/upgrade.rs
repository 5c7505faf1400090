//! Kept forms have versions. What was kept under an earlier one is read through a chain of upgrades, each from one format to
//! the next; what is kept now is of [`FORMAT`]. Samples of every format lie frozen in `core/tests/old` and open for ever.

use serde::de::DeserializeOwned;
use serde_json::{Map, Value as Json};

/// The format in which parts, operations and packs are kept now.
pub const FORMAT: i16 = 5;

/// What is kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kept {
    /// A [`crate::part::Part`].
    Part,
    /// A [`crate::history::Change`], or an operation of one that stands apart.
    Change,
    Op,
    /// A [`crate::talk::Comment`].
    Comment,
    /// What was put into a record that is not added: a list of fields, each with its [`crate::value::Input`].
    Draft,
    /// A [`crate::pack::Pack`].
    Pack,
    /// A [`crate::team::TeamPart`], and a [`crate::team::TeamChange`].
    TeamPart,
    TeamChange,
}

/// One step of the chain: the same in the next format.
type Step = fn(Kept, Json) -> Json;

/// From each format to the next; the first is from 1 to 2.
const CHAIN: &[Step] = &[checks_say_what_they_are, areas_are_the_teams, figures_have_one_name_each, highlights_are_parts];

/// What a condition checks says what it is in one word among its settings, and how a form looks is its appearance.
fn checks_say_what_they_are(_: Kept, mut json: Json) -> Json {
    fn tagged(check: &mut Json) {
        let tag = |word: &str, mut settings: Map<String, Json>| {
            settings.insert("is".to_owned(), Json::from(word));
            Json::Object(settings)
        };
        *check = match std::mem::take(check) {
            Json::String(word) => tag(&word, Map::new()),
            // It says so already: a change that was kept under the number of an earlier format.
            Json::Object(one) if one.get("is").is_some_and(Json::is_string) => Json::Object(one),
            Json::Object(mut one) if one.len() == 1 => {
                let word = one.keys().next().cloned().unwrap_or_default();
                match one.remove(&word) {
                    Some(Json::Object(settings)) => tag(&word, settings),
                    other => other.unwrap_or_default(),
                }
            }
            other => other,
        };
    }
    each_object(&mut json, &mut |object| {
        if let Some(Json::Object(test)) = object.get_mut("test")
            && test.contains_key("path")
            && let Some(check) = test.get_mut("check")
        {
            tagged(check);
        }
        if let Some(Json::Object(form)) = object.get_mut("form")
            && form.contains_key("questions")
            && let Some(look) = form.remove("look")
        {
            form.insert("appearance".to_owned(), look);
        }
    });
    json
}

/// A tracker does not say in which area it lies: the area says what lies in it.
fn areas_are_the_teams(_: Kept, mut json: Json) -> Json {
    each_object(&mut json, &mut |object| {
        if let Some(Json::Object(tracker)) = object.get_mut("tracker")
            && tracker.contains_key("zone")
        {
            tracker.remove("area");
        }
    });
    json
}

/// *different* is how many different values there are; the list of them is *each*.
fn figures_have_one_name_each(_: Kept, mut json: Json) -> Json {
    each_object(&mut json, &mut |object| {
        if object.contains_key("links")
            && object.contains_key("shows")
            && let Some(figure) = object.get_mut("figure").filter(|figure| *figure == "different")
        {
            *figure = Json::from("each");
        }
    });
    json
}

/// There are highlights, and views in which some are off: nothing that was kept before is another for it.
fn highlights_are_parts(_: Kept, json: Json) -> Json {
    json
}

/// Does something with every object, but for those in what people keep as structured data.
fn each_object(json: &mut Json, does: &mut dyn FnMut(&mut Map<String, Json>)) {
    match json {
        Json::Object(object) => {
            does(object);
            object.iter_mut().filter(|(key, _)| *key != "json").for_each(|(_, inner)| each_object(inner, does));
        }
        Json::Array(list) => list.iter_mut().for_each(|inner| each_object(inner, does)),
        Json::Null | Json::Bool(_) | Json::Number(_) | Json::String(_) => {}
    }
}

/// Why something that was kept can't be read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unreadable(pub String);

impl std::fmt::Display for Unreadable {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

impl std::error::Error for Unreadable {}

/// Reads what was kept in some format.
///
/// # Errors
/// Why it can't be read: it is of a later format, or no JSON of its sort.
pub fn read<T: DeserializeOwned>(kept: Kept, format: i16, json: &[u8]) -> Result<T, Unreadable> {
    let unreadable = |error: serde_json::Error| Unreadable(error.to_string());
    if format == FORMAT {
        return serde_json::from_slice(json).map_err(unreadable);
    }
    let json = upgraded(CHAIN, kept, format, serde_json::from_slice(json).map_err(unreadable)?)?;
    serde_json::from_value(json).map_err(unreadable)
}

/// The same in the last format that a chain leads to.
fn upgraded(chain: &[Step], kept: Kept, format: i16, json: Json) -> Result<Json, Unreadable> {
    let from = usize::try_from(format).ok().and_then(|f| f.checked_sub(1)).filter(|from| *from <= chain.len());
    let from =
        from.ok_or_else(|| Unreadable(format!("it is of format {format}, and this program knows formats 1 to {}", chain.len() + 1)))?;
    Ok(chain[from..].iter().fold(json, |json, step| step(kept, json)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn the_chain_leads_to_the_format_of_now() {
        assert_eq!(CHAIN.len() + 1, usize::try_from(FORMAT).unwrap());
    }

    #[test]
    fn structured_data_of_people_stays_as_it_is() {
        let theirs = json!({ "json": { "test": { "path": [1], "check": "empty" } } });
        let kept = json!({ "cell": { "after": theirs }, "test": { "path": [1], "check": { "older": { "days": 3 } } } });
        let now = json!({ "cell": { "after": theirs }, "test": { "path": [1], "check": { "is": "older", "days": 3 } } });
        assert_eq!(upgraded(CHAIN, Kept::Op, 1, kept).unwrap(), now);
    }

    #[test]
    fn a_check_that_says_what_it_is_stays_as_it_is() {
        let now = json!({ "test": { "path": [1], "check": { "is": "empty" } } });
        assert_eq!(upgraded(CHAIN, Kept::Part, 1, now.clone()).unwrap(), now);
    }

    #[test]
    fn a_summary_of_different_values_is_the_list_of_each() {
        let kept = json!({ "links": [1], "shows": { "type": "text" }, "figure": "different" });
        assert_eq!(upgraded(CHAIN, Kept::Part, 3, kept).unwrap()["figure"], "each");
    }

    #[test]
    fn each_format_is_upgraded_from_where_it_is() {
        let named = |_: Kept, mut json: Json| {
            json["name"] = json["title"].take();
            json
        };
        let counted = |_: Kept, mut json: Json| {
            json["count"] = json!(1);
            json
        };
        let chain: &[Step] = &[named, counted];
        assert_eq!(upgraded(chain, Kept::Part, 1, json!({"title": "a"})).unwrap()["name"], "a");
        assert_eq!(upgraded(chain, Kept::Part, 2, json!({"name": "a"})).unwrap(), json!({"name": "a", "count": 1}));
        assert_eq!(upgraded(chain, Kept::Part, 3, json!({"name": "a"})).unwrap(), json!({"name": "a"}));
        assert!(upgraded(chain, Kept::Part, 4, json!({})).is_err());
        assert!(upgraded(chain, Kept::Part, 0, json!({})).is_err());
    }
}
