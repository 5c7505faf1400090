//! The templates that ship with Westerfall. Each is sketched in a few lines and then built through the same way in as
//! anybody's tracker, so that one that would not stand can't ship.

mod ours;
mod sketch;

use jiff::{Timestamp, tz::TimeZone};
use std::sync::{Arc, LazyLock};
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    pack::{Pack, Packing},
    people::People,
    schema::{Hue, TrackerDef},
    value::Locale,
};

/// A template that ships with Westerfall.
#[derive(Clone, Debug)]
pub struct Template {
    /// In its address.
    pub key: &'static str,
    pub title: &'static str,
    pub description: &'static str,
    /// What sort of team it is for.
    pub group: &'static str,
    pub icon: &'static str,
    pub hue: Hue,
    pub pack: Pack,
}

/// The day on which the sample records' dates were chosen. They are moved to today when a template is used.
pub const SAMPLE_DAY: jiff::civil::Date = jiff::civil::date(2026, 6, 15);

static ALL: LazyLock<Vec<Template>> = LazyLock::new(|| ours::SKETCHES.iter().map(built).collect());

/// All of them.
pub fn all() -> &'static [Template] {
    &ALL
}

fn built(sketch: &sketch::Sketch) -> Template {
    let now: Timestamp = SAMPLE_DAY.at(9, 0, 0, 0).to_zoned(TimeZone::UTC).expect("a day of the calendar").timestamp();
    let clock = Clock::new(now, TimeZone::UTC);
    let def = TrackerDef {
        name: sketch.title.into(),
        description: sketch.description.into(),
        zone: "UTC".into(),
        locale: Locale::default(),
        icon: sketch.icon.into(),
        hue: Some(sketch.hue),
        stage: Default::default(),
    };
    let mut ds = Dataset::empty(def, Arc::new(People::default()));
    sketch.build(&mut ds, &clock);
    let pack = Lens::new(&ds, Asker::Westerfall, &clock).pack(Packing::Records).expect("Westerfall may pack anything");
    let sketch::Sketch { key, title, description, group, icon, hue, .. } = *sketch;
    Template { key, title, description, group, icon, hue, pack }
}

#[cfg(test)]
mod tests {
    use super::*;
    use westerfall_core::{access::Role, intent::Intent};

    #[test]
    fn every_template_stands_and_begins_a_tracker_equal_to_itself() {
        assert_eq!(all().len(), 6);
        for template in all() {
            let clock = Clock::new(Timestamp::UNIX_EPOCH, TimeZone::UTC);
            let people = Arc::new(People::default());
            let def = TrackerDef {
                name: "Another".into(),
                description: String::new(),
                zone: "UTC".into(),
                locale: Locale::default(),
                icon: String::new(),
                hue: None,
                stage: Default::default(),
            };
            let mut ds = Dataset::empty(def, people);
            let unpack = Intent::Unpack { pack: Box::new(template.pack.clone()), by: None };
            let decision = ds.decide(&unpack, Asker::Westerfall, &clock);
            ds.apply(&decision.unwrap_or_else(|f| panic!("{}: {f:?}", template.title)).change);
            let lens = Lens::new(&ds, Asker::Westerfall, &clock);
            let again = lens.pack(Packing::Records).unwrap();
            assert_eq!(again, template.pack, "{}", template.title);
            assert!(ds.tables().count() >= 2 && ds.forms().count() >= 1 && ds.automations().count() >= 1, "{}", template.title);
            // Roles that say whom they are for, and are held by nobody yet.
            let held = |role: &Role| !role.members.is_empty() || !role.groups.is_empty();
            assert!(ds.roles().count() >= 1 && ds.roles().all(|role| !role.about.is_empty() && !held(role)), "{}", template.title);
            let shapes: std::collections::HashSet<_> = ds.views().map(|view| std::mem::discriminant(&view.query.shape)).collect();
            assert_eq!(shapes.len(), 4, "{}: rows, lanes, a calendar and cards", template.title);
            assert!(ds.tables().any(|table| !ds.highlights_of(table.def.id).is_empty()), "{}", template.title);
            assert!(ds.views().count() > ds.tables().count() && ds.tables().all(|t| lens.count(t.def.id) >= 3), "{}", template.title);
        }
    }
}
