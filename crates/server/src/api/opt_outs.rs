//! The addresses outside that want no more messages, as the team sees and corrects them.

use super::team::acting;
use crate::{
    app::App,
    here::Caller,
    problem::{Json, Problem},
    team::TeamDone,
};
use axum::extract::State;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use westerfall_core::{
    id::{AutomationId, FormId},
    people::{MessagesOf, OptOut},
    team::{OptOutWish, TeamIntent},
    value::Customs,
};

/// An address that wants no more messages.
#[derive(Serialize, ToSchema)]
pub(super) struct OptOutLine {
    address: String,
    /// None at all.
    all: bool,
    of: Vec<OptOutOf>,
    /// *since 12 November 2026*.
    since: String,
}

/// Messages of which it wants no more.
#[derive(Serialize, ToSchema)]
pub(super) struct OptOutOf {
    of: MessagesOf,
    /// *“Tell the walker” of Path faults*.
    words: String,
}

/// The addresses that want no more messages: to an owner all, to a steward those of their trackers.
#[utoipa::path(get, path = "/api/team/opt-outs", responses((status = 200, body = Vec<OptOutLine>)))]
pub(super) async fn list(State(app): State<App>, caller: Caller) -> Result<Json<Vec<OptOutLine>>, Problem> {
    let me = caller.person()?;
    let asker = app.team.asker(me).await?;
    let clock = app.team.clock_for(me);
    let (mut lines, mut known) = (Vec::new(), BTreeMap::new());
    for OptOut { address, all, of, since, .. } in app.team.now().opt_outs_for(&asker) {
        let mut named = Vec::new();
        for of in of {
            // Of many addresses the same few messages are meant.
            let words = match known.get(&of) {
                Some(words) => String::clone(words),
                None => known.entry(of).or_insert(words(&app, of).await).clone(),
            };
            named.push(OptOutOf { of, words });
        }
        let customs: Customs = clock.customs();
        let since = format!("since {}", customs.date_text(since.to_zoned(clock.told.clone()).date()));
        lines.push(OptOutLine { address, all, of: named, since });
    }
    Ok(Json(lines))
}

/// What is gone by now is still something that somebody said.
async fn words(app: &App, of: MessagesOf) -> String {
    let Ok(live) = app.tracker(of.tracker).await else { return "messages of a tracker that is gone".to_owned() };
    let ds = live.now();
    let name = &ds.tracker.name;
    let automation = AutomationId::new(of.part).and_then(|id| ds.automation(id)).map(|one| &one.name);
    let form = FormId::new(of.part).and_then(|id| ds.form(id)).map(|one| &one.title);
    match (automation, form) {
        (Some(automation), _) => format!("“{automation}” of {name}"),
        (None, Some(form)) => format!("copies of answers to “{form}” of {name}"),
        (None, None) => format!("messages of {name} that are sent no more"),
    }
}

/// Notes what somebody outside said otherwise, as on the telephone, or lets messages go to them again.
#[utoipa::path(post, path = "/api/team/opt-outs", request_body = OptOutWish, responses((status = 200, body = TeamDone)))]
pub(super) async fn say(State(app): State<App>, caller: Caller, Json(wish): Json<OptOutWish>) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let change = app.act_on_team(asker, TeamIntent::OptOut(wish)).await?;
    Ok(Json((&change).into()))
}
