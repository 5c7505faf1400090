//! Mornings: each of the team is reminded once a day of what is on them, and told what they want to hear of daily. Whichever server is first does it.

use crate::{app::App, problem::Problem};
use futures::FutureExt;
use jiff::{SignedDuration, Timestamp, civil::Time};
use std::{panic::AssertUnwindSafe, time::Duration};
use westerfall_core::{
    Clock,
    access::Asker,
    id::{PersonId, TrackerId},
    inbox::{Elsewhere, MORNING},
    rounds::{Duty, InTracker, Task, morning},
    team::Letter,
};

/// How often is looked.
const EVERY: Duration = Duration::from_secs(30);
/// From which hour on, where somebody lives.
const HOUR: i8 = 7;

/// Reminds from now on.
pub fn start(app: App) {
    tokio::spawn(async move {
        loop {
            match AssertUnwindSafe(all(&app)).catch_unwind().await {
                Ok(Ok(())) => {}
                Ok(Err(error)) => tracing::warn!(told = error.told(), "mornings could not be looked after"),
                Err(_) => tracing::error!("looking after mornings fell over"),
            }
            tokio::time::sleep(EVERY).await;
        }
    });
}

/// Reminds everybody whose morning has come.
///
/// # Errors
/// The database can't be asked.
pub async fn all(app: &App) -> Result<(), Problem> {
    for person in app.team.people().iter().filter(|person| !person.has_left() && !person.mail.is_empty()) {
        let clock = app.team.clock_for(person.id);
        let hour = clock.now.to_zoned(clock.told.clone()).hour();
        if hour >= HOUR && !app.store.was_reminded(person.id, clock.today()).await? {
            // Its letter has the day in its key: killed before that is noted, it is not sent twice.
            remind(app, person.id, &clock).await?;
            app.store.note_reminded(person.id, clock.today()).await?;
        }
    }
    Ok(())
}

async fn remind(app: &App, person: PersonId, clock: &Clock) -> Result<(), Problem> {
    let told = if app.elsewhere(person, MORNING).await? == Elsewhere::Daily {
        morning(&duties(app, Asker::Person(person), person, person, clock).await?.0, clock)
    } else {
        None
    };
    let news = app.daily_news(person, last_morning(clock)).await?;
    if told.is_none() && news.is_empty() {
        return Ok(());
    }
    let page = if told.is_some() { "rounds" } else { "inbox" };
    let link = format!("{}/{page}", app.settings.public_url);
    let letter = Letter::Morning { told: told.as_ref(), news: &news, link: &link };
    app.mail_letter(person, &format!("morning {person} {}", clock.today()), &letter).await
}

/// When the morning of the day before came.
fn last_morning(clock: &Clock) -> Timestamp {
    let came = clock.today().yesterday().ok().and_then(|day| day.at(HOUR, 0, 0, 0).to_zoned(clock.told.clone()).ok());
    came.map_or(Timestamp::MIN, |at| at.timestamp())
}

/// What is on somebody in all trackers that whoever looks may open, and what was asked of them, as far as that is whoever looks' business.
///
/// # Errors
/// The database can't be asked.
pub async fn duties(app: &App, asker: Asker, looks: PersonId, of: PersonId, clock: &Clock) -> Result<(Vec<Duty>, Vec<InTracker>), Problem> {
    let mut trackers = Vec::new();
    let mut looked: Vec<(TrackerId, crate::live::Look)> = Vec::new();
    for id in app.store.trackers().await? {
        let Ok(look) = app.tracker(id).await?.look(asker) else { continue };
        trackers.push(InTracker { id, name: look.dataset.tracker.name.clone(), count: 0 });
        looked.push((id, look));
    }
    // What one asked oneself, or others, is nobody else's business: of others' tasks one sees those that one gave.
    let tasks =
        app.store.tasks_of(of, midnight(clock)).await?.into_iter().filter(|task| of == looks || task.by == looks).collect::<Vec<_>>();
    let (told, team) = (clock.clone(), app.team.people());
    let read = app.rooms.read(move || {
        let mut duties: Vec<Duty> = Vec::new();
        for (id, look) in &looked {
            duties.extend(look.lens().rounds(of).into_iter().map(|duty| Duty { tracker: Some(*id), ..duty }));
        }
        let about = |task: &Task| {
            let (tracker, table, record) = task.asks.about?;
            let (_, look) = looked.iter().find(|(id, _)| *id == tracker)?;
            look.lens().record_name(table, record).map(|named| named.name)
        };
        duties.extend(tasks.iter().map(|task| task.duty(about(task), looks, &team, &told)));
        duties
    });
    Ok((read.await?, trackers))
}

/// When the day began.
fn midnight(clock: &Clock) -> Timestamp {
    let begun = clock.today().to_datetime(Time::midnight()).to_zoned(clock.told.clone());
    begun.map_or_else(|_| clock.now.saturating_sub(SignedDuration::from_secs(24 * 3_600)).unwrap_or(Timestamp::MIN), |at| at.timestamp())
}
