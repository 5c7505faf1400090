//! Who else has a table or record open.

use super::places::OfTracker;
use crate::{
    here::Here,
    present::{Place, SCREEN_LIMIT, Said},
    problem::{Json, Path, Problem},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind},
    id::{FieldId, PersonId, RecordId, TableId},
    schema::within_sentence,
};

/// What one's screen shows.
#[derive(Deserialize, ToSchema)]
pub(super) struct PresenceBody {
    /// A name of its own making, the same for as long as it is open.
    screen: String,
    /// Nothing: it shows no table any more.
    #[serde(default)]
    table: Option<TableId>,
    #[serde(default)]
    record: Option<RecordId>,
    #[serde(default)]
    field: Option<FieldId>,
    /// One writes there.
    #[serde(default)]
    writes: bool,
}

/// Somebody else, and where they are.
#[derive(Serialize, ToSchema)]
pub(super) struct PresentOne {
    person: PersonId,
    name: String,
    table: TableId,
    record: Option<RecordId>,
    field: Option<FieldId>,
    writes: bool,
    /// *Idris Pell is here, in planned day*.
    says: String,
}

/// Says what one's screen shows, and hears who else is where one may look. Whoever stands in for somebody is told, and tells nothing.
#[utoipa::path(put, path = "/api/trackers/{tracker}/presence", params(OfTracker), request_body = PresenceBody, responses((status = 200, body = Vec<PresentOne>)))]
pub(super) async fn attend(
    here: Here,
    Path(OfTracker { .. }): Path<OfTracker>,
    Json(body): Json<PresenceBody>,
) -> Result<Json<Vec<PresentOne>>, Problem> {
    let me = here.caller.person()?;
    let look = here.look()?;
    let lens = look.lens();
    if body.screen.is_empty() || body.screen.len() > SCREEN_LIMIT {
        return Err(Fault::new(FaultKind::BadRule, "A screen has a name of at most 64 letters.").at("/screen").into());
    }
    if here.caller.actor().is_ok() {
        // Nobody says that they are where they may not be.
        let table = body.table.filter(|table| lens.opens(*table));
        let record = body.record.filter(|record| table.is_some_and(|table| lens.sees(table, *record)));
        let field = body.field.filter(|field| record.zip(table).is_some_and(|(record, table)| lens.shows(table, record, *field)));
        let place = table.map(|table| Place { table, record, field, writes: body.writes && field.is_some() });
        let said = Said { tracker: here.tracker, screen: format!("{me} {}", body.screen), person: me, place };
        here.app.store.tell_present(&serde_json::to_string(&said).unwrap_or_default()).await?;
        here.app.present.hear(said);
    }
    let mut others: BTreeMap<(PersonId, TableId, Option<RecordId>), Place> = BTreeMap::new();
    for (person, place) in here.app.present.others(here.tracker, &format!("{me} {}", body.screen)) {
        if person == me || !lens.opens(place.table) || place.record.is_some_and(|record| !lens.sees(place.table, record)) {
            continue;
        }
        let shows = |field: &FieldId| place.record.is_some_and(|record| lens.shows(place.table, record, *field));
        let field = place.field.filter(shows);
        others.insert((person, place.table, place.record), Place { field, writes: place.writes && field.is_some(), ..place });
    }
    let told = others.into_iter().filter_map(|((person, table, record), place)| {
        let name = look.dataset.people.get(person)?.name.clone();
        let within = place.field.and_then(|field| look.dataset.table(table)?.def.field(field)).map(|field| within_sentence(&field.name));
        let says = match within {
            Some(field) if place.writes => format!("{name} writes in {field}"),
            Some(field) => format!("{name} is here, in {field}"),
            None => format!("{name} is here"),
        };
        Some(PresentOne { person, name, table, record, field: place.field, writes: place.writes, says })
    });
    Ok(Json(told.collect()))
}
