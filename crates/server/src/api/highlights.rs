//! The highlights of a table: listed, put in order, looked at beside the records they act on.

use super::{
    parts::highlight::{HighlightBody, HighlightView, seen},
    places::{OfCell, OfHighlight, OfTable},
};
use crate::{
    here::Here,
    live::{Done, Look},
    problem::{Json, Path, Problem},
};
use serde::Deserialize;
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;
use westerfall_core::{
    fault::Fault,
    highlight::{CopyTo, HighlightCopy, HighlightsRehearsal, WhyLook},
    id::{FieldId, HighlightId, TableId, TrackerId},
    intent::Intent,
    view::Query,
};

fn opens(look: &Look, table: TableId) -> Result<(), Problem> {
    if look.dataset.table(table).is_some() && look.lens().opens(table) { Ok(()) } else { Err(Fault::not_found("table").into()) }
}

/// The highlights of a table that act for whoever asks, in their order.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/highlights", params(OfTable), responses((status = 200, body = Vec<HighlightView>)))]
pub(super) async fn list(here: Here, Path(OfTable { table, .. }): Path<OfTable>) -> Result<Json<Vec<HighlightView>>, Problem> {
    let look = here.look()?;
    let listed = move || {
        opens(&look, table)?;
        let lens = look.lens();
        Ok(lens.highlights(table, &BTreeSet::new()).into_iter().map(|(number, one)| seen(&look, one, number)).collect())
    };
    here.app.rooms.read(listed).await?.map(Json)
}

/// Where a highlight is to stand.
#[derive(Deserialize, ToSchema)]
pub(super) struct MoveHighlightBody {
    /// From 0.
    to: usize,
}

/// Puts a highlight at another place of its table's list.
#[utoipa::path(post, path = "/api/trackers/{tracker}/highlights/{highlight}/move", params(OfHighlight), request_body = MoveHighlightBody, responses((status = 200, body = Done)))]
pub(super) async fn move_to(
    here: Here,
    Path(OfHighlight { highlight, .. }): Path<OfHighlight>,
    Json(body): Json<MoveHighlightBody>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::MoveHighlight { highlight, to: body.to }).await
}

/// Which records are looked at, and what is being written.
#[derive(Deserialize, ToSchema)]
pub(super) struct HighlightsBody {
    query: Query,
    /// Most records that are told, at most 400.
    count: usize,
    /// A highlight that is being written.
    #[serde(default)]
    draft: Option<HighlightDraft>,
}

/// A highlight that is being written.
#[derive(Deserialize, ToSchema)]
pub(super) struct HighlightDraft {
    /// Which it is, where it exists already.
    #[serde(default)]
    number: Option<u32>,
    highlight: HighlightBody,
}

/// The first records of a view as its highlights make them look. Nothing is kept.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/highlights/rehearsal", params(OfTable), request_body = HighlightsBody, responses((status = 200, body = HighlightsRehearsal)))]
pub(super) async fn rehearse(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<HighlightsBody>,
) -> Result<Json<HighlightsRehearsal>, Problem> {
    let look = here.look()?;
    let rehearsed = move || {
        opens(&look, table)?;
        let query = body.query.asked_by(&look.lens(), table)?;
        let draft = body.draft.map(|draft| HighlightBody { table, ..draft.highlight }.drafted(draft.number, &look));
        Ok(query.rehearse_highlights(&look.dataset, look.asker, &look.clock, table, draft, body.count)?)
    };
    here.app.rooms.read(rehearsed).await?.map(Json)
}

/// Where a highlight is taken.
#[derive(Deserialize, ToSchema)]
pub(super) struct CopyBody {
    /// The tracker; one's own may be said too.
    tracker: TrackerId,
    table: TableId,
    /// Which field there stands for which of its own, where that has been said.
    #[serde(default)]
    fields: Vec<StandsFor>,
}

/// A field there that stands for one here.
#[derive(Clone, Copy, Deserialize, ToSchema)]
pub(super) struct StandsFor {
    field: FieldId,
    becomes: FieldId,
}

/// A highlight as it would be in another table, perhaps of another tracker; what is missing there is asked for. Nothing is kept.
#[utoipa::path(post, path = "/api/trackers/{tracker}/highlights/{highlight}/copy", params(OfHighlight), request_body = CopyBody, responses((status = 200, body = HighlightCopy)))]
pub(super) async fn copy(
    here: Here,
    Path(OfHighlight { highlight, .. }): Path<OfHighlight>,
    Json(body): Json<CopyBody>,
) -> Result<Json<HighlightCopy>, Problem> {
    let from = here.look()?;
    let to = if body.tracker == here.tracker {
        here.look()?
    } else {
        Here::at(&here.app, body.tracker, here.caller.clone()).await?.look_as_builder("table")?
    };
    let copied = move || {
        opens(&to, body.table)?;
        let (lens, there) = (from.lens(), to.lens());
        let acting = lens.dataset().highlight(highlight).filter(|one| lens.opens(one.table) && one.condition.is_open_to(&lens, one.table));
        let one = acting.ok_or_else(|| Fault::not_found("highlight"))?;
        let chosen: BTreeMap<FieldId, FieldId> = body.fields.iter().map(|stands| (stands.field, stands.becomes)).collect();
        Ok(one.copied(&lens, &CopyTo { lens: &there, table: body.table, same: body.tracker == here.tracker, chosen: &chosen }))
    };
    here.app.rooms.read(copied).await?.map(Json)
}

/// What is off where one looks.
#[derive(Deserialize, ToSchema)]
pub(super) struct WhyLookBody {
    /// The highlights that are off there.
    #[serde(default)]
    without: BTreeSet<HighlightId>,
}

/// Why what stands in a cell looks as it does.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/looks/{field}", params(OfCell), request_body = WhyLookBody, responses((status = 200, body = WhyLook)))]
pub(super) async fn why(
    here: Here,
    Path(OfCell { table, record, field, .. }): Path<OfCell>,
    Json(body): Json<WhyLookBody>,
) -> Result<Json<WhyLook>, Problem> {
    let look = here.look()?;
    look.lens().why_look(table, record, field, &body.without).map(Json).ok_or_else(|| Fault::not_found("record").into())
}
