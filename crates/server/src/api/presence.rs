//! Who else has a table or record open.

use super::places::OfTracker;
use crate::{
    here::Here,
    present::{SCREEN_LIMIT, Said},
    problem::{Json, Path, Problem},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind},
    id::{FieldId, PersonId, RecordId, TableId},
    presence::Place,
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
        let (record, field, writes) = (body.record, body.field, body.writes);
        let place = body.table.and_then(|table| lens.place(Place { table, record, field, writes }));
        let said = Said { tracker: here.tracker, screen: format!("{me} {}", body.screen), person: me, place };
        here.app.store.tell_present(&serde_json::to_string(&said).unwrap_or_default()).await?;
        here.app.present.hear(said);
    }
    let mut others: BTreeMap<(PersonId, TableId, Option<RecordId>), Place> = BTreeMap::new();
    for (person, place) in here.app.present.others(here.tracker, &format!("{me} {}", body.screen)) {
        if let Some(place) = lens.place_told(place).filter(|_| person != me) {
            others.insert((person, place.table, place.record), place);
        }
    }
    let told = others.into_iter().filter_map(|((person, ..), place)| {
        let (name, says) = lens.place_words(person, place)?;
        let Place { table, record, field, writes } = place;
        Some(PresentOne { person, name, table, record, field, writes, says })
    });
    Ok(Json(told.collect()))
}
