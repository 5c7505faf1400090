//! The demo team, all of it made up. It is told as a story: steps at their own times by their own people, done through
//! the same way in as everyone's data.

// Its days are its own, all near now.
#![allow(clippy::disallowed_methods)]
// So are its figures, all of them small.
#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss)]

mod arrangement;
mod dashboards;
mod documents;
mod forms;
mod highlights;
mod ids;
mod makers;
mod parties;
mod pictures;
mod rounds;
pub mod scaled;
mod sharing;
mod structure;
mod talk;
mod words;

use ids::{OFFICE, faults as f, sections as s};
use jiff::{SignedDuration, Timestamp, ToSpan, Unit, civil::Date, tz::TimeZone};
use std::sync::Arc;
use westerfall_core::{
    access::Asker,
    face::TeamLook,
    id::{AreaId, FieldId, FormId, OptionId, PersonId, RecordId, TrackerId},
    intent::Intent,
    people::{Area, AreaRight, People, Person},
    schema::TrackerDef,
    team::{AreaWish, Newcomer, Team, TeamAsker, TeamIntent},
    value::{Attachment, Input, Locale, Value},
};

/// The zone in which the demo team lives.
pub const ZONE: &str = "Europe/London";
/// The last part of the demo form's address.
pub const FORM_LINK: &str = "report-a-path-fault";
pub use rounds::{Asked, tasks};
pub use sharing::{CLERK, PAGE_LINK};
/// Everybody's password in the demo.
pub const PASSWORD: &str = "orrindale-demo";
/// Faults in the demo as it is shown.
pub const FAULTS: usize = 320;
/// Most work orders in the demo.
const ORDERS: usize = 110;

/// What the team is called.
pub const TEAM: &str = "Orrindale Paths Trust";

/// Who signs in, and as what. The first owns the team.
pub fn people() -> Vec<Person> {
    let person = |number, name: &str, about: &str| {
        let first = name.split(' ').next().unwrap_or(name).to_lowercase();
        let known = Person::new(person_id(number), name, format!("{first}@orrindale-paths.example"));
        Person { about: about.to_owned(), owner: number == 1, ..known }
    };
    vec![
        person(1, "Nadia Ferreira-Holt", "operations coordinator, steward"),
        person(2, "Tamsin Oake", "warden of Eskermoor"),
        person(3, "Idris Pell", "warden of Harrow Tarn"),
        person(4, "Marguerite Voss", "warden of Ninestone and Upper Orrin"),
        person(5, "Jonah Adeyemi-Clark", "warden of Low Marrow and Sallow Beck"),
        person(6, "Bex Lindqvist", "office, editor"),
        person(7, "Pavel Arkwright", "trustee, reader"),
        person(8, "Wren Castellane", "volunteer, submitter"),
    ]
}

/// How the team came to be: begun by its coordinator, with everybody let in and the groups made.
pub fn beginning() -> Vec<TeamIntent> {
    let newcomer = |person: Person| Newcomer { name: person.name, mail: person.mail, about: person.about };
    let mut people = people().into_iter();
    let owner = people.next().map(newcomer).expect("somebody begins it");
    let others: Vec<Newcomer> = people.map(newcomer).collect();
    let arrivals: Vec<TeamIntent> = (2..).zip(&others).map(|(number, _)| TeamIntent::Arrive(person_id(number))).collect();
    let group = |name: &str, members: &[u32]| TeamIntent::Group {
        id: None,
        name: name.to_owned(),
        members: members.iter().map(|number| person_id(*number)).collect(),
        pins: Vec::new(),
    };
    let mut intents = vec![TeamIntent::Begin { team: TEAM.to_owned(), owner }, TeamIntent::Add(others)];
    intents.extend(arrivals);
    intents.extend([group("Wardens", &[2, 3, 4, 5]), group("Office", &[1, 6])]);
    intents
}

pub use dashboards::dashboards;

/// How the team looks where it is seen from outside, and the picture of its mark.
pub fn look() -> (TeamLook, Vec<u8>) {
    let (mark, bytes) = pictures::mark();
    let words = "Orrin Mill, Harrow Tarn\noffice@orrindale-paths.example, +44 1632 960100".to_owned();
    (TeamLook { mark: Some(mark), colour: Some("#2e482c".into()), words }, bytes)
}

/// The areas in which its trackers lie; what is of the neighbours is open to the office.
pub fn areas(upkeep: TrackerId, beside: &[TrackerId]) -> Vec<TeamIntent> {
    let area = |number| AreaId::new(number).expect("areas are numbered from 1");
    let make = |name: &str, about: &str| TeamIntent::Area(AreaWish::Make { name: name.into(), about: about.into() });
    let place = |tracker, number| TeamIntent::Area(AreaWish::Place { tracker, area: Some(area(number)) });
    let mut intents = vec![
        make("Paths", "The footpaths, and who looks after them"),
        make("Neighbours", "What we do for those who live along them"),
        place(upkeep, 1),
    ];
    intents.extend(beside.iter().map(|tracker| place(*tracker, 2)));
    intents.push(TeamIntent::Area(AreaWish::Keep(Area {
        id: area(2),
        name: "Neighbours".into(),
        about: "What we do for those who live along them".into(),
        trackers: beside.to_vec(),
        opens: [(OFFICE, AreaRight::Work)].into(),
    })));
    intents
}

/// The team's people and groups, as they stand once it was begun.
pub fn team_people() -> Arc<People> {
    let mut team = Team::default();
    for intent in beginning() {
        let change = team.decide(&intent, &TeamAsker::Westerfall, Timestamp::UNIX_EPOCH).expect("the demo's team stands");
        team.apply(&change);
    }
    Arc::clone(team.people())
}

pub(crate) fn person_id(number: u32) -> PersonId {
    PersonId::new(number).expect("the demo's people are numbered from 1")
}

/// The tracker, before anything is in it.
pub fn tracker() -> TrackerDef {
    TrackerDef {
        name: "Path upkeep".into(),
        description: "Faults on 412 km of footpaths, and who puts them right.".into(),
        zone: ZONE.into(),
        locale: Locale::default(),
        icon: "signpost".into(),
        hue: Some(westerfall_core::schema::Hue::Fern),
        stage: Default::default(),
    }
}

/// One step of the story.
#[derive(Debug)]
pub struct Step {
    pub at: Timestamp,
    pub asker: Asker,
    pub intent: Intent,
    /// Files that the intent names, with their bytes.
    pub files: Vec<(Attachment, Vec<u8>)>,
}

/// The story up to now, with so many faults.
pub fn story(now: Timestamp, faults: usize) -> Vec<Step> {
    let teller = Teller { now, today: today(now) };
    let mut steps = vec![
        teller.step(200, Asker::Westerfall, Intent::Build(structure::parts())),
        teller.step(200, Asker::Person(person_id(1)), teller.districts()),
        teller.sections(),
        teller.step(198, Asker::Person(person_id(1)), teller.materials()),
    ];
    if faults <= 2 * FAULTS {
        steps.extend((0..faults.saturating_sub(3)).map(|n| teller.fault(n, faults)));
    } else {
        // For measurements: the same faults again and again, in bulk.
        let bulk = |from: usize| (from..(from + 5_000).min(faults)).map(|n| teller.fault_cells(n, faults)).collect();
        steps.extend(
            (0..faults)
                .step_by(5_000)
                .map(|from| teller.step(120, Asker::Westerfall, Intent::Add { table: f::TABLE, records: bulk(from) })),
        );
    }
    steps.extend(teller.orders(faults.min(FAULTS)));
    steps.extend(teller.parties());
    steps.push(teller.step(1, Asker::Person(person_id(1)), Intent::Build(structure::automations())));
    steps.push(teller.step(6, Asker::Person(person_id(1)), Intent::Build(vec![sharing::clerks_page(teller.today)])));
    if faults <= 2 * FAULTS {
        steps.extend(teller.clerk(faults));
        steps.extend(teller.talk(faults));
        steps.extend((faults.saturating_sub(3)..faults).map(|n| teller.last_faults(n, faults)));
    }
    steps
}

struct Teller {
    now: Timestamp,
    today: Date,
}

/// The same for the same number, but without a pattern to see.
pub(crate) fn dice(seed: usize, salt: usize, sides: usize) -> usize {
    let mut x = (seed as u64).wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ (salt as u64).wrapping_mul(0xD1B5_4A32_D192_ED03);
    x ^= x >> 31;
    x = x.wrapping_mul(0xBF58_476D_1CE4_E5B9);
    x ^= x >> 29;
    (x % sides.max(1) as u64) as usize
}

fn pick<T: Copy>(items: &[T], seed: usize, salt: usize) -> T {
    items[dice(seed, salt, items.len())]
}

fn text(text: impl Into<String>) -> Input {
    Input::Text(text.into())
}

fn option(option: OptionId) -> Input {
    Input::Value(Value::Choice(option))
}

fn link(row: usize) -> Input {
    Input::Value(Value::Links(vec![RecordId::at_row(row)]))
}

impl Teller {
    fn step(&self, days_ago: i64, asker: Asker, intent: Intent) -> Step {
        Step { at: self.now - SignedDuration::from_hours(24 * days_ago), asker, intent, files: Vec::new() }
    }

    fn day(&self, days: i64) -> Input {
        Input::Value(Value::Date(self.today.saturating_add(days.days())))
    }

    /// A moment of the day so many days from today, so many half hours after its midnight.
    fn moment(&self, days: i64, half_hours: usize) -> Input {
        let day = self.today.saturating_add(days.days());
        let zone = TimeZone::get(ZONE).unwrap_or(TimeZone::UTC);
        let clocks = day.at((half_hours / 2 % 24) as i8, (half_hours % 2 * 30) as i8, 0, 0);
        Input::Value(Value::Instant(zone.to_ambiguous_zoned(clocks).compatible().map_or(self.now, |at| at.timestamp())))
    }

    fn districts(&self) -> Intent {
        use ids::districts as d;
        let records = words::DISTRICTS.iter().map(|(name, warden, budget, rate)| {
            vec![
                (d::NAME, text(*name)),
                (d::WARDEN, Input::Value(Value::Person(person_id(*warden)))),
                (d::BUDGET, text(budget.to_string())),
                (d::RATE, text(*rate)),
            ]
        });
        Intent::Add { table: d::TABLE, records: records.collect() }
    }

    fn sections(&self) -> Step {
        let mut files = Vec::new();
        let records = (0..words::SECTIONS).map(|n| {
            let surface = dice(n, 3, structure::SURFACES.len());
            let mut cells = vec![
                (s::NAME, text(words::section(n))),
                (s::DISTRICT, link(words::section_district(n))),
                (s::LENGTH, text(format!("{}.{}", 1 + dice(n, 1, 11), dice(n, 2, 10)))),
                (s::SURFACE, option(structure::SURFACES[surface])),
                (s::SUB_SURFACE, option(structure::SUB_SURFACES[2 * surface + dice(n, 6, 2)])),
                (s::DIFFICULTY, option(pick(&structure::DIFFICULTIES, n, 5))),
                (s::PLACE, text(words::place(n))),
                (s::INSPECTED, self.day(-(10 + dice(n, 4, 330) as i64))),
            ];
            if n % 8 == 0 {
                let (attachment, bytes) = pictures::picture(&format!("section-{n}"), n, n / 8);
                cells.push((s::PICTURE, Input::Upload(vec![attachment.clone()])));
                files.push((attachment, bytes));
            }
            cells
        });
        let intent = Intent::Add { table: s::TABLE, records: records.collect() };
        Step { files, ..self.step(199, Asker::Person(person_id(1)), intent) }
    }

    fn materials(&self) -> Intent {
        use ids::materials as m;
        let records = words::MATERIALS.iter().enumerate().map(|(n, (name, unit, price, supplier))| {
            vec![
                (m::NAME, text(*name)),
                (m::UNIT, text(*unit)),
                (m::PRICE, text(*price)),
                (m::SUPPLIER, text(*supplier)),
                (m::STOCK, text(dice(n, 40, 60).to_string())),
            ]
        });
        Intent::Add { table: m::TABLE, records: records.collect() }
    }

    /// Work orders for faults that are being put right or have been, a few at a time, each time with their material lines.
    fn orders(&self, faults: usize) -> Vec<Step> {
        use ids::{lines as l, orders as o};
        // The last three come by the form, after all orders.
        let in_work = (0..faults.saturating_sub(3)).filter(|n| (2..=4).contains(&stage(*n, self.age(*n, faults))));
        let mut by_district: Vec<Vec<usize>> = vec![Vec::new(); words::DISTRICTS.len()];
        in_work.for_each(|n| by_district[words::section_district(dice(n, 14, words::SECTIONS))].push(n));
        let mut jobs: Vec<(usize, Vec<usize>)> = by_district
            .iter()
            .enumerate()
            .flat_map(|(district, faults)| faults.chunks(2).map(move |pair| (district, pair.to_vec())))
            .collect();
        jobs.sort_by_key(|(_, faults)| faults[0]);
        jobs.truncate(ORDERS);
        let mut steps = Vec::new();
        for (batch, jobs) in jobs.chunks(11).enumerate() {
            let first = batch * 11;
            let ago = 100 - 9 * batch as i64;
            let orders = jobs.iter().enumerate().map(|(at, (district, faults))| {
                let n = first + at;
                let links = faults.iter().map(|row| RecordId::at_row(*row)).collect();
                let leader = words::DISTRICTS[*district].1;
                // What is not done yet stands in the days around today.
                let planned = if ago > 30 { 7 + dice(n, 30, 6) as i64 - ago } else { dice(n, 30, 11) as i64 - 3 };
                let mut cells = vec![
                    (o::FAULTS, Input::Value(Value::Links(links))),
                    (o::DISTRICT, link(*district)),
                    (o::LEADER, Input::Value(Value::Person(person_id(leader)))),
                    (o::PLANNED, self.day(planned)),
                    (o::HOURS, text(format!("{}.{}", 1 + dice(n, 31, 5), [0, 5][dice(n, 32, 2)]))),
                ];
                // One or the other waits for a time.
                if ago > 30 || dice(n, 38, 6) > 0 {
                    cells.push((o::BEGINS, self.moment(planned, 16 + dice(n, 37, 12))));
                }
                if ago > 30 {
                    let started = self.now - SignedDuration::from_hours(24 * (ago - 14));
                    cells.push((o::STARTED, Input::Value(Value::Instant(started))));
                    cells
                        .push((o::FINISHED, Input::Value(Value::Instant(started + SignedDuration::from_hours(2 + dice(n, 33, 5) as i64)))));
                    cells.push((o::APPROVED, Input::Value(Value::Person(person_id(1)))));
                }
                cells
            });
            steps.push(self.step(ago, Asker::Person(person_id(6)), Intent::Add { table: o::TABLE, records: orders.collect() }));
            let lines = (first..first + jobs.len()).flat_map(|n| {
                (0..2 + dice(n, 34, 4)).map(move |line| {
                    let material = dice(n * 8 + line, 35, words::MATERIALS.len());
                    vec![
                        (l::ORDER, link(n)),
                        (l::MATERIAL, link(material)),
                        (l::QUANTITY, text(words::quantity(material, dice(n * 8 + line, 36, 6)).to_string())),
                    ]
                })
            });
            steps.push(self.step(ago, Asker::Person(person_id(6)), Intent::Add { table: l::TABLE, records: lines.collect() }));
        }
        steps
    }

    /// How many days ago the n-th of so many faults was reported.
    fn age(&self, n: usize, faults: usize) -> i64 {
        let first_of_year = self.today.first_of_year();
        let year_so_far = self.today.since((Unit::Day, first_of_year)).map_or(0, |s| i64::from(s.get_days()));
        let span = year_so_far.clamp(4, 190);
        let share = (faults - n.min(faults)) as f64 / faults.max(1) as f64;
        (share.powf(1.35) * span as f64) as i64
    }

    fn fault_cells(&self, n: usize, faults: usize) -> Vec<(FieldId, Input)> {
        let age = self.age(n, faults);
        let kind = dice(n, 11, ids::KINDS.len());
        let severity = [0, 0, 0, 1, 1, 1, 1, 2, 2, 3][dice(n, 12, 10)];
        let stage = stage(n, age);
        let reporter = words::reporter(n);
        let mut cells = vec![
            (f::TITLE, text(words::fault_title(kind, n))),
            (f::SECTION, link(dice(n, 14, words::SECTIONS))),
            (f::KIND, option(ids::KINDS[kind])),
            (f::SEVERITY, option(ids::SEVERITIES[severity])),
            (f::STATUS, option(ids::STATUSES[stage])),
            (f::REPORTED, self.day(-age)),
            (f::REPORTER, text(&reporter)),
        ];
        if stage == 2 {
            cells.push((f::PLANNED, self.day(2 + dice(n, 23, 20) as i64)));
        }
        if stage > 0 {
            cells.push((f::HOURS, text(format!("{}.{}", 1 + dice(n, 15, 9), [0, 5][dice(n, 16, 2)]))));
        }
        if dice(n, 17, 3) > 0 {
            cells.push((f::MAIL, text(words::mail(&reporter))));
        }
        if dice(n, 18, 2) == 0 {
            cells.push((f::PHONE, text(format!("+44 7700 900{:03}", 100 + dice(n, 19, 800)))));
        }
        if dice(n, 20, 3) == 0 {
            cells.push((f::DESCRIPTION, text(words::description(kind, n))));
        }
        cells
    }

    fn fault(&self, n: usize, faults: usize) -> Step {
        let mut cells = self.fault_cells(n, faults);
        let mut files = Vec::new();
        if n % 9 == 4 {
            let (attachment, bytes) = pictures::picture(&format!("fault-{n}"), n, dice(n, 11, ids::KINDS.len()));
            cells.push((f::PICTURES, Input::Upload(vec![attachment.clone()])));
            files.push((attachment, bytes));
        }
        let asker = Asker::Person(person_id([1, 6, 6, 6][dice(n, 21, 4)]));
        let step = self.step(self.age(n, faults), asker, Intent::Add { table: f::TABLE, records: vec![cells] });
        let minute = SignedDuration::from_mins(dice(n, 22, 600) as i64);
        Step { at: (step.at - minute).min(self.now - SignedDuration::from_mins(90)), files, ..step }
    }

    /// The last three came by the form, last night and this morning.
    fn last_faults(&self, n: usize, faults: usize) -> Step {
        let severity = [2, 0, 3][n % 3];
        let kind = [4, 3, 1][n % 3];
        let reporter = words::reporter(n);
        let (attachment, bytes) = pictures::picture(&format!("fault-{n}"), n, kind);
        let answers = vec![
            (f::TITLE, text(words::fault_title(kind, n))),
            (f::KIND, option(ids::KINDS[kind])),
            (f::SEVERITY, option(ids::SEVERITIES[severity])),
            (f::SECTION, link(dice(n, 14, words::SECTIONS))),
            (f::DESCRIPTION, text(words::description(kind, n))),
            (f::PICTURES, Input::Upload(vec![attachment.clone()])),
            (f::REPORTER, text(&reporter)),
            (f::MAIL, text(words::mail(&reporter))),
        ];
        let at = self.now - SignedDuration::from_mins(20 * (faults - n) as i64);
        let form = FormId::new(ids::FORM).expect("the form's number is not zero");
        Step { at, asker: Asker::Form(form), intent: Intent::Send { form, answer: answers.into() }, files: vec![(attachment, bytes)] }
    }
}

/// How far the n-th fault has come, by its age in days: what is old is mostly put right; what is new is mostly not looked at yet.
fn stage(n: usize, age: i64) -> usize {
    match age {
        0..=3 => [0, 0, 0, 1][dice(n, 13, 4)],
        4..=14 => [0, 1, 1, 2, 2, 3, 4][dice(n, 13, 7)],
        15..=45 => [1, 2, 2, 3, 3, 4, 4, 4, 5][dice(n, 13, 9)],
        _ => [2, 3, 4, 4, 4, 4, 4, 4, 4, 4, 5, 4][dice(n, 13, 12)],
    }
}

/// The zone's civil day, for what shows dates.
pub fn today(now: Timestamp) -> Date {
    now.to_zoned(TimeZone::get(ZONE).unwrap_or(TimeZone::UTC)).date()
}
