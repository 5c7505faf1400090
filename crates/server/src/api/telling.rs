//! Records told in lines: what each piece was taken for, and making them.

use super::places::OfTracker;
use crate::here::Here;
use crate::{
    live::Done,
    problem::{Json, Problem},
    refusal::Refusal,
};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, Faults},
    id::TableId,
    import::{ImportInto, Said, Sheet, TOLD_LIMIT, Told, told},
    intent::{Import, ImportRehearsal, Intent, NewTable, TableChange},
};

/// Records as somebody tells them, a line each.
#[derive(Deserialize, ToSchema)]
pub(super) struct TellBody {
    lines: String,
    /// What one of them is, of a new table.
    #[serde(default)]
    one: String,
    /// The table they go into; none: a new one.
    #[serde(default)]
    into: Option<TableId>,
    /// What was said of the pieces.
    #[serde(default)]
    said: Vec<Said>,
    /// Whether lines of one piece are names of fields, where that was said.
    #[serde(default)]
    names: Option<bool>,
    /// Make it; else it is only said what they were taken for.
    #[serde(default)]
    make: bool,
}

/// What lines were taken for, and what came of them.
#[derive(Serialize, ToSchema)]
pub(super) struct TellReply {
    told: Told,
    /// What making them would do; nothing where there is nothing to make, or no name for one of them.
    rehearsal: Option<ImportRehearsal>,
    /// Why that can't be done as it stands.
    refused: Vec<Fault>,
    done: Option<Done>,
}

/// Says what lines were taken for, or makes the records that they tell.
#[utoipa::path(post, path = "/api/trackers/{tracker}/told", params(OfTracker), request_body = TellBody, responses((status = 200, body = TellReply)))]
pub(super) async fn tell(here: Here, Json(body): Json<TellBody>) -> Result<Json<TellReply>, Problem> {
    if body.lines.len() > TOLD_LIMIT {
        return Err(Refusal::ToldTooMuch.into());
    }
    let look = here.look()?;
    // What a table is called is told to those alone who may open it.
    if body.into.is_some_and(|table| !look.lens().opens(table)) {
        return Err(Fault::not_found("table").into());
    }
    let make = body.make;
    let told = here.app.rooms.read(move || {
        let sheet = Arc::new(told(&body.lines));
        let told = look.lens().tell(&sheet, &body.one, body.into, &body.said, body.names);
        let intent = intent_of(&told, &sheet, &body.one);
        let heard = match &intent {
            Intent::Import(import) if !make => Some(look.dataset.rehearse_import(import, look.asker, &look.clock)),
            _ => None,
        };
        let (rehearsal, refused) = match heard {
            Some(Ok(rehearsal)) => (Some(rehearsal), Vec::new()),
            Some(Err(Faults(faults))) => (None, faults),
            None => (None, Vec::new()),
        };
        (TellReply { told, rehearsal, refused, done: None }, intent)
    });
    let (reply, intent) = told.await?;
    if !make {
        return Ok(Json(reply));
    }
    let actor = here.caller.actor()?;
    let done = here.live.act(actor, intent).await?;
    Ok(Json(TellReply { done: Some(done), ..reply }))
}

fn intent_of(told: &Told, sheet: &Arc<Sheet>, one: &str) -> Intent {
    match &told.plan.into {
        ImportInto::New { name, .. } if !told.names.is_empty() => {
            let one = Some(one.to_owned());
            Intent::Table(TableChange::Begin(NewTable { name: name.clone(), one, fields: told.names.clone(), ..NewTable::default() }))
        }
        _ => Intent::Import(Box::new(Import { plan: told.plan.clone(), sheet: sheet.clone() })),
    }
}
