//! Beginning a tracker: from nothing, or from one that was packed.

use crate::{app::App, problem::Problem, secrets::random_hex};
use jiff::{Timestamp, tz::TimeZone};
use westerfall_core::{
    Clock,
    access::Asker,
    dataset::Dataset,
    fault::Fault,
    id::{PersonId, TrackerId},
    intent::Intent,
    pack::Pack,
    part::Part,
    schema::TrackerDef,
    value::{Attachment, Value},
};

/// Begins a tracker with what was packed, owned by somebody. Forms are closed until somebody has looked at them, unless
/// `keeps_open`.
///
/// # Errors
/// Why it would not stand; nothing is kept then.
pub async fn begin(app: &App, def: &TrackerDef, pack: Option<Pack>, owner: PersonId, keeps_open: bool) -> Result<TrackerId, Problem> {
    let people = app.team.people();
    let mut pack = pack.unwrap_or_default().for_team(&people).owned_by(owner);
    pack.parts.retain(|part| !matches!(part, Part::Tracker(_)));
    pack.parts.insert(0, Part::Tracker(def.clone()));
    for part in &mut pack.parts {
        if let Part::Form(form) = part {
            form.link = random_hex(12);
            form.open = form.open && keeps_open;
        }
        if let Part::Page(page) = part {
            page.link = random_hex(12);
        }
    }
    renew_files(app, &mut pack).await?;
    let intent = Intent::Unpack { pack: Box::new(pack), by: Some(owner) };
    let clock = Clock::new(Timestamp::now(), TimeZone::UTC);
    Dataset::empty(def.clone(), people).decide(&intent, Asker::Westerfall, &clock)?;
    let tracker = app.store.begin_tracker(def).await?;
    match app.tracker(tracker).await?.act(Asker::Westerfall, intent).await {
        Ok(_) => Ok(tracker),
        Err(problem) => {
            app.store.forget_tracker(tracker).await?;
            Err(problem)
        }
    }
}

/// Every file gets a number of its own, with its bytes under it; one whose bytes are not there is left out. Addresses among them stay.
async fn renew_files(app: &App, pack: &mut Pack) -> Result<(), Problem> {
    for value in pack.rows.iter_mut().flat_map(|r| r.columns.iter_mut().flatten()) {
        let Value::Files(files) = value else { continue };
        let mut renewed = Vec::new();
        for file in files.iter() {
            if file.is_address() {
                renewed.push(file.clone());
                continue;
            }
            let Some(bytes) = app.files.get(&file.id).await? else { continue };
            let id = random_hex(16);
            app.files.put(&id, bytes).await?;
            if let Some(small) = app.files.get(&crate::pictures::small_id(&file.id)).await? {
                app.files.put(&crate::pictures::small_id(&id), small).await?;
            }
            renewed.push(Attachment { id, ..file.clone() });
        }
        *value = Value::Files(renewed.into()).tidy();
    }
    Ok(())
}

/// One of our templates by its key, with its days moved to now; or one that was published, by its number.
///
/// # Errors
/// That there is none.
pub async fn template(app: &App, key: &str) -> Result<Pack, Problem> {
    if let Some(ours) = westerfall_templates::all().iter().find(|t| t.key == key) {
        let today = Timestamp::now().to_zoned(TimeZone::UTC).date();
        let days = westerfall_templates::SAMPLE_DAY.until(today).map_or(0, |span| span.get_days());
        return Ok(ours.pack.clone().moved(i64::from(days)));
    }
    let published = match key.parse() {
        Ok(id) => app.store.template(id).await?,
        Err(_) => None,
    };
    published.ok_or_else(|| Fault::not_found("template").into())
}

/// What a packed tracker is called and how it looks.
pub fn definition(pack: &Pack) -> Option<TrackerDef> {
    pack.parts.iter().find_map(|part| if let Part::Tracker(def) = part { Some(def.clone()) } else { None })
}
