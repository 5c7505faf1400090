//! Loads the demo team into an empty database, step by step, through the same way in as everyone's data.

use crate::{app::App, live::Wish, pictures, problem::Problem, session::hash_password, starting};
use jiff::{SignedDuration, Timestamp};
use westerfall_core::{
    id::{PersonId, TrackerId},
    inbox::{News, Notice},
    rounds::Task,
    schema::TrackerDef,
    team::{TeamAsker, TeamIntent},
};

/// The demo's tracker.
pub const TRACKER: TrackerId = TrackerId::new(1).expect("not zero");

/// The templates from which its small trackers are made.
const BESIDE: [&str; 2] = ["repair-mornings", "village-orchard"];
/// How long ago everybody looked in.
const LOOKED: SignedDuration = SignedDuration::from_secs(26 * 3_600);
/// Who owns them.
const STEWARD: PersonId = PersonId::new(1).expect("not zero");

/// Tells the demo's story up to now, unless something is there already.
pub async fn load(app: &App, faults: usize) -> Result<(), Box<dyn std::error::Error>> {
    if !app.team.now().is_empty() {
        return Ok(());
    }
    told(app, faults).await.map_err(|problem| format!("the demo could not be told: {problem:?}").into())
}

async fn told(app: &App, faults: usize) -> Result<(), Problem> {
    for intent in westerfall_demo::beginning() {
        app.act_on_team(TeamAsker::Westerfall, intent).await?;
    }
    // One hash for all: eight slow ones would only make the first start slower.
    let hash = hash_password(&app.rooms, westerfall_demo::PASSWORD).await?;
    for person in app.team.people().iter() {
        app.store.set_password(person.id, &hash, None).await?;
    }
    app.store.create_tracker(TRACKER, &westerfall_demo::tracker()).await?;
    let live = app.tracker(TRACKER).await?;
    let mut waiting = Vec::new();
    for step in westerfall_demo::story(Timestamp::now(), faults) {
        for (attachment, bytes) in step.files {
            let small = pictures::examine(&app.rooms, attachment.name.clone(), bytes.clone(), pictures::Keep::Seen).await?.small;
            pictures::keep(&app.files, &[pictures::Upload { attachment, bytes, small }]).await?;
        }
        let wish = Wish { at: Some(step.at), ..Wish::now(step.intent, step.asker) };
        waiting.push(live.queue(wish).await?);
    }
    // All were on their way, in their order, before the first is answered: so they are kept in few transactions.
    for queued in waiting {
        queued.answer().await?;
    }
    let mut beside = Vec::new();
    for key in BESIDE {
        let pack = starting::template(app, key).await?;
        let Some(def) = starting::definition(&pack) else { continue };
        let def = TrackerDef { zone: westerfall_demo::ZONE.into(), ..def };
        beside.push(starting::begin(app, &def, Some(pack), STEWARD, false).await?);
    }
    for intent in westerfall_demo::areas(TRACKER, &beside) {
        app.act_on_team(TeamAsker::Westerfall, intent).await?;
    }
    let (look, bytes) = westerfall_demo::look();
    if let Some(mark) = &look.mark {
        app.files.put(&mark.id, bytes).await?;
    }
    app.act_on_team(app.team.asker(STEWARD).await?, TeamIntent::Look(look)).await?;
    let (maker, intents) = westerfall_demo::dashboards(TRACKER);
    for intent in intents {
        app.act_on_team(app.team.asker(maker).await?, intent).await?;
    }
    let now = Timestamp::now();
    for one in westerfall_demo::tasks(now, app.team.clock_for(STEWARD).today()) {
        let number = app.store.give_task(one.by, &one.asks, one.made).await?;
        if one.by != one.asks.who && !one.done {
            let of = News::Asked { task: number, what: one.asks.what.clone() };
            app.store.tell(None, &Notice { to: one.asks.who, by: Some(one.by), about: None, of }, one.made).await?;
        }
        if one.done
            && let Some(task) = app.store.task(number).await?
        {
            app.store.keep_task(number, Some(&Task { done: Some(now), ..task })).await?;
        }
    }
    // They are reminded from tomorrow on.
    for person in app.team.people().iter() {
        app.store.note_reminded(person.id, app.team.clock_for(person.id).today()).await?;
    }
    // Everybody looked in yesterday, so that home has something to tell.
    for person in app.team.people().iter() {
        for tracker in beside.iter().chain([&TRACKER]) {
            app.store.visited(person.id, *tracker, Timestamp::now() - LOOKED).await?;
        }
    }
    Ok(())
}
