//! Many records changed at once: rehearsed, then done as one step.

use super::places::OfTable;
use crate::{
    here::Here,
    live::Done,
    problem::{Json, Path, Problem},
};
use serde::Deserialize;
use std::collections::BTreeSet;
use utoipa::ToSchema;
use westerfall_core::{
    access::Lens,
    automation::Told,
    bulk::{Altered, Bulk, BulkRehearsal, Which},
    id::{RecordId, TableId},
    intent::Intent,
    view::Query,
};

/// A change of many records.
#[derive(Deserialize, ToSchema)]
pub(super) struct BulkBody {
    /// These records; empty: all that the view shows.
    #[serde(default)]
    records: Vec<RecordId>,
    /// The view in which one sees them, saved or not.
    query: Query,
    /// Of these, those that stay as they are.
    #[serde(default)]
    without: BTreeSet<RecordId>,
    alter: Vec<Altered>,
    /// A name by which one asks how far it has come, and stops it.
    #[serde(default)]
    awaited: Option<String>,
}

impl BulkBody {
    /// As it is open to whoever asks, with the view.
    fn read(self, lens: &Lens<'_>, table: TableId) -> Result<(Bulk, Query), Problem> {
        let query = self.query.asked_by(lens, table)?;
        let which = if self.records.is_empty() { Which::Shown(Box::new(query.clone())) } else { Which::These(self.records) };
        Ok((Bulk { table, which, without: self.without, alter: self.alter }, query))
    }
}

/// What a change of many records would do, and whom it can't be done to; nothing is changed.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/bulk/rehearsal", params(OfTable), request_body = BulkBody, responses((status = 200, body = BulkRehearsal)))]
pub(super) async fn rehearse(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<BulkBody>,
) -> Result<Json<BulkRehearsal>, Problem> {
    let look = here.look()?;
    let asker = here.caller.actor()?;
    // Whoever stops waiting drops this, and no more is worked out.
    let awaited = here.app.waits.begin(here.caller.person()?, body.awaited.clone());
    let progress = awaited.progress();
    let rehearsed = move || {
        let (bulk, query) = body.read(&look.lens(), table)?;
        let mut told = bulk.rehearse(&look.dataset, asker, &look.clock, Some(&query));
        if told.changed > 0 && told.refusals == 0 && told.wrong.is_none() {
            // What was found to be possible is not refused here.
            told.says.extend(
                look.dataset.follows(&Intent::Bulk(Box::new(bulk)), Told::Asked, asker, &look.clock, &*progress).unwrap_or_default(),
            );
        }
        Ok(told)
    };
    let told = here.app.rooms.read(rehearsed).await?;
    drop(awaited);
    told.map(Json)
}

/// Changes many records, as one step: all of them or none.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/bulk", params(OfTable), request_body = BulkBody, responses((status = 200, body = Done)))]
pub(super) async fn change(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<BulkBody>,
) -> Result<Json<Done>, Problem> {
    let awaited = body.awaited.clone();
    let (bulk, _) = body.read(&here.look()?.lens(), table)?;
    here.act_awaited(Intent::Bulk(Box::new(bulk)), awaited).await
}
