//! Volunteers, and the work parties they are on.

use crate::{
    Step, Teller, dice,
    ids::{districts as d, option, parties as p, sections as s, volunteers as v},
    link,
    makers::{calculation, choice, down, kept, line, numbering, plain, required, shown, summary, test, up},
    option as chosen, person_id, pick, text, words,
};
use jiff::ToSpan;
use westerfall_core::{
    access::Asker,
    condition::{Check, Condition, Period},
    figure::Figure,
    id::{FieldId, OptionId, RecordId, ViewId},
    intent::Intent,
    schema::{FieldDef, Hue, Kind, Link, MineBy, NumberPart, Preset, Restart, TableDef},
    value::{Input, Value},
    view::{Almanac, AlmanacDate, Query, Shape, Tally, View},
};

/// Volunteers in the demo.
const VOLUNTEERS: usize = 150;
/// Work parties in the demo.
const PARTIES: usize = 80;
/// Of those, the ones that are still to come.
const AHEAD: usize = 8;

const SKILLS: [OptionId; 6] = [option(370), option(371), option(372), option(373), option(374), option(375)];
pub(crate) const STATUSES: [OptionId; 3] = [option(380), option(381), option(382)];

fn held_this_year() -> Condition {
    let held = test(&[p::STATUS], Check::Option { not: false, any: vec![STATUSES[1]] });
    Condition::All(vec![held, test(&[p::WHEN], Check::Within { period: Period::ThisYear })])
}

pub(crate) fn volunteer_table() -> TableDef {
    let skills = [
        ("dry-stone walling", Hue::Flint),
        ("carpentry", Hue::Bracken),
        ("drainage", Hue::Sky),
        ("brush cutting", Hue::Fern),
        ("first aid", Hue::Rowan),
        ("driving", Hue::Slate),
    ];
    let Kind::Choice { options, .. } = choice(&SKILLS, &skills) else { unreachable!("it makes a choice") };
    TableDef {
        beside: Some(v::DISTRICT),
        mine: MineBy { made: false, own: Some(v::MAIL), ..MineBy::default() },
        ..TableDef::new(
            v::TABLE,
            "Volunteers",
            "volunteer",
            v::NAME,
            [
                required(plain(v::NAME, "Name", line(80))),
                FieldDef { unique: true, ..plain(v::MAIL, "Mail", Kind::Email) },
                plain(v::PHONE, "Phone", Kind::Phone),
                plain(v::DISTRICT, "District", Kind::Link(Link { to: d::TABLE, back: d::VOLUNTEERS, one: true, holds: true })),
                plain(v::SKILLS, "Skills", Kind::Choices { options }),
                plain(v::JOINED, "Joined", Kind::Date),
                plain(v::INDUCTED, "Induction", Kind::Date),
                plain(v::ACTIVE, "Active", Kind::YesNo),
                plain(v::PARTIES, "Work parties", Kind::Link(Link { to: p::TABLE, back: p::VOLUNTEERS, one: false, holds: false })),
                plain(
                    v::HOURS,
                    "Hours this year",
                    summary(&[v::PARTIES], Figure::Sum, Some(p::EACH), held_this_year(), Kind::Number { decimals: 0, unit: "h".into() }),
                ),
                plain(v::PICTURE, "Picture", Kind::Files),
            ]
            .into_iter()
            .chain(kept([v::CREATED_AT, v::CREATED_BY, v::CHANGED_AT, v::CHANGED_BY]))
            .collect(),
        )
    }
}

pub(crate) fn party_table() -> TableDef {
    let number = vec![
        NumberPart::Fixed { text: "WP-".into() },
        NumberPart::Year,
        NumberPart::Fixed { text: "-".into() },
        NumberPart::Counter { digits: 3, restarts: Restart::Yearly },
    ];
    let statuses = [("planned", Hue::Sky), ("held", Hue::Fern), ("called off", Hue::Peat)];
    let hours = || Kind::Number { decimals: 0, unit: "h".into() };
    TableDef {
        beside: Some(p::NUMBER),
        ..TableDef::new(
            p::TABLE,
            "Work parties",
            "work party",
            p::WHAT,
            [
                plain(p::NUMBER, "Number", numbering(number)),
                required(plain(p::WHAT, "What", line(120))),
                plain(p::WHEN, "When", Kind::Range),
                plain(p::LEADER, "Leader", Kind::Person),
                plain(p::SECTIONS, "Sections", Kind::Link(Link { to: s::TABLE, back: s::PARTIES, one: false, holds: true })),
                plain(p::VOLUNTEERS, "Volunteers", Kind::Link(Link { to: v::TABLE, back: v::PARTIES, one: false, holds: true })),
                FieldDef {
                    preset: Some(Preset::Value(Value::Choice(STATUSES[0]))),
                    ..plain(p::STATUS, "Status", choice(&STATUSES, &statuses))
                },
                plain(p::EACH, "Hours each", hours()),
                plain(p::HOURS, "Hours", calculation(format!("{{{}}} * COUNT({{{}}})", p::EACH, p::VOLUNTEERS), hours())),
                plain(p::NOTES, "Notes", Kind::LongText),
            ]
            .into_iter()
            .chain(kept([p::CREATED_AT, p::CREATED_BY, p::CHANGED_AT, p::CHANGED_BY]))
            .collect(),
        )
    }
}

pub(crate) fn views() -> [View; 3] {
    let view = |id: u32, table, name: &str, query| View::new(ViewId::new(id).expect("not zero"), table, name, query);
    [
        view(
            390,
            v::TABLE,
            "All volunteers",
            Query {
                sorts: vec![up(v::NAME)],
                fields: shown(&[
                    (v::NAME, 200),
                    (v::DISTRICT, 140),
                    (v::SKILLS, 240),
                    (v::PHONE, 150),
                    (v::JOINED, 120),
                    (v::ACTIVE, 90),
                    (v::HOURS, 130),
                ]),
                tallies: vec![Tally { field: v::HOURS, figure: Figure::Sum }],
                ..Query::default()
            },
        ),
        view(
            398,
            p::TABLE,
            "When parties are out",
            Query {
                sorts: vec![up(p::WHEN)],
                fields: shown(&[(p::WHAT, 280), (p::STATUS, 110), (p::LEADER, 180), (p::HOURS, 100), (p::WHEN, 200)]),
                tallies: vec![Tally { field: p::HOURS, figure: Figure::Sum }],
                shape: Shape::Calendar(Almanac::by(vec![AlmanacDate::of(p::WHEN)])),
                ..Query::default()
            },
        ),
        view(
            391,
            p::TABLE,
            "All work parties",
            Query {
                sorts: vec![down(p::WHEN)],
                fields: shown(&[
                    (p::NUMBER, 130),
                    (p::WHAT, 280),
                    (p::WHEN, 200),
                    (p::LEADER, 180),
                    (p::VOLUNTEERS, 280),
                    (p::STATUS, 110),
                    (p::HOURS, 100),
                ]),
                tallies: vec![Tally { field: p::HOURS, figure: Figure::Sum }],
                ..Query::default()
            },
        ),
    ]
}

impl Teller {
    /// The volunteers, and the parties that they were and will be on.
    pub(crate) fn parties(&self) -> [Step; 2] {
        let steward = Asker::Person(person_id(1));
        let volunteers = Intent::Add { table: v::TABLE, records: (0..VOLUNTEERS).map(|n| self.volunteer(n)).collect() };
        let parties = Intent::Add { table: p::TABLE, records: (0..PARTIES).map(|n| self.party(n)).collect() };
        [self.step(197, steward, volunteers), self.step(30, steward, parties)]
    }

    fn volunteer(&self, n: usize) -> Vec<(FieldId, Input)> {
        let joined = 200 + dice(n, 61, 2_400) as i64;
        let skills = (0..1 + dice(n, 62, 3)).map(|at| SKILLS[(dice(n, 63, SKILLS.len()) + 2 * at) % SKILLS.len()]);
        // The first of them signs in.
        let (name, mail) = match n {
            0 => ("Wren Castellane".to_owned(), "wren@orrindale-paths.example".to_owned()),
            n => (words::volunteer(n), words::volunteer_mail(n)),
        };
        vec![
            (v::NAME, text(name)),
            (v::MAIL, text(mail)),
            (v::PHONE, text(format!("+44 7700 900{:03}", 100 + dice(n, 64, 800)))),
            (v::DISTRICT, link(dice(n, 65, words::DISTRICTS.len()))),
            (v::SKILLS, Input::Value(Value::Choices(skills.collect()))),
            (v::JOINED, self.day(-joined)),
            (v::INDUCTED, self.day(14 - joined)),
            (v::ACTIVE, Input::Value(Value::Logical(dice(n, 66, 9) > 0))),
        ]
    }

    fn party(&self, n: usize) -> Vec<(FieldId, Input)> {
        let ahead = n >= PARTIES - AHEAD;
        let begins = if ahead { 4 + 7 * (n + AHEAD - PARTIES) as i64 } else { 4 * (n as i64 - (PARTIES - AHEAD) as i64) };
        let first = self.today.saturating_add(begins.days());
        let last = first.saturating_add((dice(n, 71, 3) as i64).days());
        let section = dice(n, 72, words::SECTIONS);
        let mut sections = vec![RecordId::at_row(section)];
        if dice(n, 73, 3) == 0 {
            sections.push(RecordId::at_row((section + words::DISTRICTS.len()) % words::SECTIONS));
        }
        let mut on: Vec<usize> = (0..4 + dice(n, 74, 6)).map(|at| (dice(n, 75, VOLUNTEERS) + 11 * at) % VOLUNTEERS).collect();
        if n % 7 == 3 && !on.contains(&0) {
            on.push(0);
        }
        let status = if ahead { 0 } else { 1 + usize::from(dice(n, 76, 12) == 0) };
        vec![
            (p::WHAT, text(words::party(section, n))),
            (p::WHEN, Input::Value(Value::Range(first, last))),
            (p::LEADER, Input::Value(Value::Person(person_id(words::DISTRICTS[words::section_district(section)].1)))),
            (p::SECTIONS, Input::Value(Value::Links(sections))),
            (p::VOLUNTEERS, Input::Value(Value::Links(on.into_iter().map(RecordId::at_row).collect()))),
            (p::STATUS, chosen(STATUSES[status])),
            (p::EACH, text((4 + dice(n, 77, 4)).to_string())),
            (p::NOTES, text(pick(&words::PARTY_NOTES, n, 78))),
        ]
    }
}
