//! The tables, views, form, roles and automation of *Path upkeep*.

use crate::{ids::*, makers::*, parties as of_parties, person_id};
use std::collections::{BTreeMap, BTreeSet};
use westerfall_core::{
    access::{Base, FieldRight, Reach, Role, TableRights},
    automation::{Automation, Hour, Occasion, Recipient, Reply, ReplyBy, ReplyChoice, Round, Step},
    bulk::{Alter, Altered},
    condition::{Check, Comparison, Condition, Period, When, Who},
    figure::Figure,
    id::{AutomationId, FieldId, FormId, GroupId, OptionId, RoleId, ViewId},
    part::Part,
    schema::{Copies, FieldDef, Hue, Kind, Link, MineBy, NumberPart, Offers, Preset, Restart, TableDef},
    value::{Input, Value},
    view::{Almanac, AlmanacDate, Beneath, Bucket, Cards, CrossOrder, CrossTab, GroupBy, LaneLimit, Lanes, Query, Shape, Tally, View},
    wording::{Piece, Wording},
};

pub(crate) const DIFFICULTIES: [OptionId; 3] = [option(290), option(291), option(292)];
/// Two under each surface.
pub(crate) const SUB_SURFACES: [OptionId; 10] =
    [option(300), option(301), option(302), option(303), option(304), option(305), option(306), option(307), option(308), option(309)];
pub(crate) const SURFACES: [OptionId; 5] = [option(86), option(87), option(88), option(89), option(90)];

fn tables() -> [TableDef; 8] {
    use {districts as d, faults as f, orders as o, parties as p, sections as s, volunteers as v};
    let district = TableDef::new(
        d::TABLE,
        "Districts",
        "district",
        d::NAME,
        [
            required(plain(d::NAME, "Name", line(80))),
            plain(d::WARDEN, "Warden", Kind::Person),
            plain(d::BUDGET, "Season budget", pounds()),
            helped(
                "Of all work orders, materials and labour.",
                plain(d::SPENT, "Money spent", summary(&[d::ORDERS], Figure::Sum, Some(o::TOTAL), Condition::default(), pounds())),
            ),
            plain(d::LEFT, "Budget left", calculation(format!("{{{}}} - {{{}}}", d::BUDGET, d::SPENT), pounds())),
            plain(d::OPEN, "Open faults", summary(&[d::SECTIONS, s::FAULTS], Figure::Count, None, status_open(), count())),
            plain(d::SECTION_COUNT, "Section count", summary(&[d::SECTIONS], Figure::Count, None, Condition::default(), count())),
            plain(
                d::AVERAGE_LENGTH,
                "Average length",
                summary(
                    &[d::SECTIONS],
                    Figure::Average,
                    Some(s::LENGTH),
                    Condition::default(),
                    Kind::Number { decimals: 1, unit: "km".into() },
                ),
            ),
            plain(d::RATE, "Hourly rate", pounds()),
            plain(d::SECTIONS, "Sections", Kind::Link(Link { to: s::TABLE, back: s::DISTRICT, one: false, holds: false })),
            plain(d::ORDERS, "Work orders", Kind::Link(Link { to: o::TABLE, back: o::DISTRICT, one: false, holds: false })),
            plain(d::VOLUNTEERS, "Volunteers", Kind::Link(Link { to: v::TABLE, back: v::DISTRICT, one: false, holds: false })),
        ]
        .into_iter()
        .chain(kept([d::CREATED_AT, d::CREATED_BY, d::CHANGED_AT, d::CHANGED_BY]))
        .collect(),
    );
    let section = TableDef {
        beside: Some(s::NUMBER),
        ..TableDef::new(
            s::TABLE,
            "Sections",
            "section",
            s::NAME,
            [
                plain(
                    s::NUMBER,
                    "Number",
                    numbering(vec![NumberPart::Fixed { text: "PS-".into() }, NumberPart::Counter { digits: 3, restarts: Restart::Never }]),
                ),
                required(plain(s::NAME, "Name", line(120))),
                plain(s::DISTRICT, "District", Kind::Link(Link { to: d::TABLE, back: d::SECTIONS, one: true, holds: true })),
                plain(s::WARDEN, "Warden", Kind::Carried { links: vec![s::DISTRICT], field: d::WARDEN }),
                plain(s::LENGTH, "Length", Kind::Number { decimals: 1, unit: "km".into() }),
                plain(
                    s::SURFACE,
                    "Surface",
                    choice(
                        &SURFACES,
                        &[
                            ("grass", Hue::Fern),
                            ("stone", Hue::Flint),
                            ("boardwalk", Hue::Bracken),
                            ("peat", Hue::Peat),
                            ("gravel", Hue::Clay),
                        ],
                    ),
                ),
                plain(s::SUB_SURFACE, "Sub-surface", sub_surfaces()),
                plain(
                    s::DIFFICULTY,
                    "Difficulty",
                    choice(&DIFFICULTIES, &[("easy", Hue::Lichen), ("fair", Hue::Gorse), ("hard", Hue::Heather)]),
                ),
                plain(s::INSPECTED, "Last inspected", Kind::Date),
                helped(
                    "Hard paths every half year, fair ones every nine months, easy ones every year.",
                    plain(
                        s::NEXT,
                        "Next inspection",
                        calculation(
                            format!(
                                "EDATE({{{}}}, SWITCH({{{}}}, {{@{}}}, 6, {{@{}}}, 9, 12))",
                                s::INSPECTED,
                                s::DIFFICULTY,
                                DIFFICULTIES[2],
                                DIFFICULTIES[1]
                            ),
                            Kind::Date,
                        ),
                    ),
                ),
                plain(s::OPEN, "Open faults", summary(&[s::FAULTS], Figure::Count, None, status_open(), count())),
                plain(s::PLACE, "Place", Kind::Place),
                plain(s::PICTURE, "Picture", Kind::Files),
                plain(s::FAULTS, "Faults", Kind::Link(Link { to: f::TABLE, back: f::SECTION, one: false, holds: false })),
                plain(s::PARTIES, "Work parties", Kind::Link(Link { to: p::TABLE, back: p::SECTIONS, one: false, holds: false })),
            ]
            .into_iter()
            .chain(kept([s::CREATED_AT, s::CREATED_BY, s::CHANGED_AT, s::CHANGED_BY]))
            .collect(),
        )
    };
    [
        district,
        section,
        fault_table(),
        material_table(),
        line_table(),
        order_table(),
        of_parties::volunteer_table(),
        of_parties::party_table(),
    ]
}

fn sub_surfaces() -> Kind {
    let names = [
        ("short grass", Hue::Fern),
        ("rough grass", Hue::Lichen),
        ("flagstones", Hue::Flint),
        ("loose stone", Hue::Slate),
        ("oak boards", Hue::Bracken),
        ("wired boards", Hue::Gorse),
        ("firm peat", Hue::Peat),
        ("wet peat", Hue::Clay),
        ("rolled gravel", Hue::Sky),
        ("loose gravel", Hue::Plum),
    ];
    let Kind::Choice { mut options, .. } = choice(&SUB_SURFACES, &names) else { unreachable!("a choice is one") };
    for (place, option) in options.iter_mut().enumerate() {
        option.under = Some(SURFACES[place / 2]);
    }
    Kind::Choice { options, on: Some(sections::SURFACE) }
}

fn material_table() -> TableDef {
    use {lines as l, materials as m};
    TableDef {
        beside: Some(m::UNIT),
        ..TableDef::new(
            m::TABLE,
            "Materials",
            "material",
            m::NAME,
            [
                required(plain(m::NAME, "Name", line(80))),
                plain(m::UNIT, "Unit", line(20)),
                plain(m::PRICE, "Unit price", pounds()),
                plain(m::SUPPLIER, "Supplier", line(80)),
                plain(m::STOCK, "In stock", Kind::Number { decimals: 0, unit: String::new() }),
                plain(m::USED, "Used so far", summary(&[m::LINES], Figure::Sum, Some(l::QUANTITY), Condition::default(), count())),
                plain(m::LINES, "Material lines", Kind::Link(Link { to: l::TABLE, back: l::MATERIAL, one: false, holds: false })),
            ]
            .into_iter()
            .chain(kept([m::CREATED_AT, m::CREATED_BY, m::CHANGED_AT, m::CHANGED_BY]))
            .collect(),
        )
    }
}

fn line_table() -> TableDef {
    use {lines as l, materials as m, orders as o};
    TableDef::new(
        l::TABLE,
        "Material lines",
        "material line",
        l::WHAT,
        [
            plain(
                l::WHAT,
                "What",
                calculation(
                    format!("{{{}}} & \" \" & {{{}.{}}} & \" of \" & {{{}}}", l::QUANTITY, l::MATERIAL, m::UNIT, l::MATERIAL),
                    line(50_000),
                ),
            ),
            plain(l::ORDER, "Work order", Kind::Link(Link { to: o::TABLE, back: o::LINES, one: true, holds: true })),
            plain(l::MATERIAL, "Material", Kind::Link(Link { to: m::TABLE, back: m::LINES, one: true, holds: true })),
            plain(l::QUANTITY, "Quantity", Kind::Number { decimals: 0, unit: String::new() }),
            FieldDef {
                copies: Some(Copies { link: l::MATERIAL, field: m::PRICE }),
                ..helped("Copied from the material when it is chosen.", plain(l::PRICE, "Unit price", pounds()))
            },
            plain(l::COST, "Line cost", calculation(format!("{{{}}} * {{{}}}", l::QUANTITY, l::PRICE), pounds())),
        ]
        .into_iter()
        .chain(kept([l::CREATED_AT, l::CREATED_BY, l::CHANGED_AT, l::CHANGED_BY]))
        .collect(),
    )
}

fn order_table() -> TableDef {
    use {districts as d, faults as f, lines as l, orders as o};
    let number = vec![
        NumberPart::Fixed { text: "WO-".into() },
        NumberPart::Year,
        NumberPart::Fixed { text: "-".into() },
        NumberPart::Counter { digits: 3, restarts: Restart::Yearly },
    ];
    TableDef::new(
        o::TABLE,
        "Work orders",
        "work order",
        o::NUMBER,
        [
            plain(o::NUMBER, "Number", numbering(number)),
            plain(o::FAULTS, "Faults", Kind::Link(Link { to: f::TABLE, back: f::ORDERS, one: false, holds: true })),
            plain(o::DISTRICT, "District", Kind::Link(Link { to: d::TABLE, back: d::ORDERS, one: true, holds: true })),
            plain(o::LEADER, "Crew leader", Kind::Person),
            plain(o::PLANNED, "Planned day", Kind::Date),
            plain(o::BEGINS, "Planned time", Kind::DateTime),
            plain(o::STARTED, "Started", Kind::DateTime),
            plain(o::FINISHED, "Finished", Kind::DateTime),
            plain(o::HOURS, "Labour hours", Kind::Number { decimals: 1, unit: "h".into() }),
            FieldDef {
                copies: Some(Copies { link: o::DISTRICT, field: d::RATE }),
                ..helped("Copied from the district when it is chosen.", plain(o::RATE, "Hourly rate", pounds()))
            },
            FieldDef {
                offers: Offers { lines: true, ..Offers::default() },
                ..plain(o::LINES, "Material lines", Kind::Link(Link { to: l::TABLE, back: l::ORDER, one: false, holds: false }))
            },
            plain(o::MATERIALS, "Materials cost", summary(&[o::LINES], Figure::Sum, Some(l::COST), Condition::default(), pounds())),
            plain(o::TOTAL, "Total", calculation(format!("{{{}}} * {{{}}} + {{{}}}", o::HOURS, o::RATE, o::MATERIALS), pounds())),
            plain(o::APPROVED, "Approved by", Kind::Person),
        ]
        .into_iter()
        .chain(kept([o::CREATED_AT, o::CREATED_BY, o::CHANGED_AT, o::CHANGED_BY]))
        .collect(),
    )
}

fn fault_table() -> TableDef {
    use {districts as d, faults as f, sections as s};
    let kinds = [
        ("fallen tree", Hue::Fern),
        ("bridge or boardwalk", Hue::Slate),
        ("drainage", Hue::Sky),
        ("signage", Hue::Plum),
        ("stile or gate", Hue::Bracken),
        ("surface", Hue::Clay),
    ];
    let severities = [("passable", Hue::Lichen), ("awkward", Hue::Gorse), ("blocked", Hue::Bracken), ("dangerous", Hue::Rowan)];
    let statuses = [
        ("reported", Hue::Flint),
        ("checked", Hue::Gorse),
        ("scheduled", Hue::Sky),
        ("in hand", Hue::Heather),
        ("made good", Hue::Fern),
        ("no action", Hue::Peat),
    ];
    let helps = [("yes", Hue::Fern), ("with tools", Hue::Gorse), ("no", Hue::Flint)];
    let number = vec![
        NumberPart::Fixed { text: "FR-".into() },
        NumberPart::Year,
        NumberPart::Fixed { text: "-".into() },
        NumberPart::Counter { digits: 4, restarts: Restart::Yearly },
    ];
    TableDef {
        beside: Some(f::NUMBER),
        mine: MineBy { address: Some(f::MAIL), ..MineBy::default() },
        ..TableDef::new(
            f::TABLE,
            "Faults",
            "fault",
            f::TITLE,
            [
                plain(f::NUMBER, "Number", numbering(number)),
                required(plain(f::TITLE, "What is wrong", line(160))),
                plain(f::SECTION, "Section", Kind::Link(Link { to: s::TABLE, back: s::FAULTS, one: true, holds: true })),
                plain(f::DISTRICT, "District", Kind::Carried { links: vec![f::SECTION], field: s::DISTRICT }),
                plain(f::WARDEN, "Warden", Kind::Carried { links: vec![f::SECTION, s::DISTRICT], field: d::WARDEN }),
                plain(f::KIND, "Kind", choice(&KINDS, &kinds)),
                helped("How hard it is to get past.", plain(f::SEVERITY, "Severity", choice(&SEVERITIES, &severities))),
                begins(Preset::Value(Value::Choice(STATUSES[0])), plain(f::STATUS, "Status", choice(&STATUSES, &statuses))),
                begins(Preset::Now, plain(f::REPORTED, "Reported on", Kind::Date)),
                helped(
                    "Dangerous after three days, blocked after a week, awkward after two, else after four.",
                    plain(
                        f::DUE,
                        "Due",
                        calculation(
                            format!(
                                "{{{}}} + SWITCH({{{}}}, {{@{}}}, 3, {{@{}}}, 7, {{@{}}}, 14, 28)",
                                f::REPORTED,
                                f::SEVERITY,
                                SEVERITIES[3],
                                SEVERITIES[2],
                                SEVERITIES[1]
                            ),
                            Kind::Date,
                        ),
                    ),
                ),
                helped(
                    "Counted until it is made good.",
                    plain(
                        f::DAYS_OPEN,
                        "Days open",
                        calculation(
                            format!(
                                "IF(OR({{{}}} = {{@{}}}, {{{}}} = {{@{}}}), \"\", TODAY() - {{{}}})",
                                f::STATUS,
                                STATUSES[4],
                                f::STATUS,
                                STATUSES[5],
                                f::REPORTED
                            ),
                            count(),
                        ),
                    ),
                ),
                plain(f::PLANNED, "Planned for", Kind::Date),
                plain(f::CHECKED, "Seen on site", Kind::DateTime),
                plain(f::HOURS, "Hours needed", Kind::Number { decimals: 1, unit: "h".into() }),
                plain(f::REPORTER, "Reporter", line(120)),
                plain(f::MAIL, "Reporter’s mail", Kind::Email),
                plain(f::PHONE, "Reporter’s phone", Kind::Phone),
                plain(f::PICTURES, "Pictures", Kind::Files),
                plain(f::DESCRIPTION, "Description", Kind::LongText),
                helped("What the parish council says.", plain(f::PARISH_HELPS, "Parish can help", choice(&PARISH_HELPS, &helps))),
                plain(f::PARISH_NOTE, "Note from the parish", line(200)),
                plain(f::ORDERS, "Work orders", Kind::Link(Link { to: orders::TABLE, back: orders::FAULTS, one: false, holds: false })),
            ]
            .into_iter()
            .chain(kept([f::CREATED_AT, f::CREATED_BY, f::CHANGED_AT, f::CHANGED_BY]))
            .collect(),
        )
    }
}

fn severe() -> Condition {
    test(&[faults::SEVERITY], Check::Option { not: false, any: vec![SEVERITIES[2], SEVERITIES[3]] })
}

/// What a lane of faults should hold at most.
fn lane_limit(status: usize, most: Option<u32>, days: Option<u32>) -> LaneLimit {
    LaneLimit { lane: Value::Choice(STATUSES[status]), most, days }
}

fn views() -> Vec<View> {
    use {districts as d, faults as f, lines as l, materials as m, orders as o, parties as p, sections as s};
    let view = |id: u32, table, name: &str, query| View::new(ViewId::new(id).expect("not zero"), table, name, query);
    let fault_fields = shown(&[
        (f::NUMBER, 138),
        (f::TITLE, 300),
        (f::KIND, 150),
        (f::SEVERITY, 112),
        (f::STATUS, 112),
        (f::DUE, 112),
        (f::DAYS_OPEN, 104),
        (f::WARDEN, 168),
        (f::HOURS, 110),
    ]);
    let hours = vec![Tally { field: f::HOURS, figure: Figure::Sum }];
    let all = |parts: Vec<Condition>| Condition::All(parts);
    vec![
        view(
            100,
            f::TABLE,
            "To be put right",
            Query {
                condition: all(vec![status_open()]),
                groups: vec![GroupBy::of(f::DISTRICT)],
                sorts: vec![up(f::DUE)],
                fields: fault_fields.clone(),
                tallies: hours.clone(),
                ..Query::default()
            },
        ),
        view(
            101,
            f::TABLE,
            "All faults",
            Query {
                sorts: vec![down(f::NUMBER)],
                fields: shown(&[
                    (f::NUMBER, 138),
                    (f::TITLE, 300),
                    (f::SECTION, 220),
                    (f::DISTRICT, 130),
                    (f::KIND, 150),
                    (f::SEVERITY, 112),
                    (f::STATUS, 112),
                    (f::REPORTED, 116),
                    (f::DUE, 112),
                    (f::PLANNED, 116),
                    (f::WARDEN, 168),
                    (f::REPORTER, 150),
                    (f::PHONE, 150),
                    (f::PICTURES, 120),
                ]),
                ..Query::default()
            },
        ),
        view(
            102,
            f::TABLE,
            "Blocked or dangerous",
            Query {
                condition: all(vec![severe(), status_open()]),
                sorts: vec![down(f::SEVERITY), up(f::DUE)],
                fields: fault_fields.clone(),
                tallies: hours.clone(),
                groups: Vec::new(),
                ..Query::default()
            },
        ),
        view(
            103,
            f::TABLE,
            "Came in this week",
            Query {
                condition: all(vec![test(&[f::REPORTED], Check::Within { period: Period::LastDays(7) })]),
                sorts: vec![down(f::REPORTED)],
                fields: fault_fields,
                ..Query::default()
            },
        ),
        view(
            113,
            f::TABLE,
            "From report to repair",
            Query {
                condition: all(vec![status_open()]),
                fields: shown(&[(f::TITLE, 300), (f::SEVERITY, 112), (f::DUE, 112), (f::HOURS, 110), (f::WARDEN, 168)]),
                tallies: hours,
                shape: Shape::Lanes(Lanes {
                    limits: vec![
                        lane_limit(0, None, Some(3)),
                        lane_limit(1, Some(20), Some(14)),
                        lane_limit(2, None, Some(30)),
                        lane_limit(3, Some(6), Some(10)),
                    ],
                    ..Lanes::by(f::STATUS)
                }),
                ..Query::default()
            },
        ),
        view(
            117,
            f::TABLE,
            "What is still open, and since when",
            Query {
                condition: all(vec![status_open()]),
                fields: shown(&[(f::TITLE, 300), (f::HOURS, 110), (f::REPORTED, 140), (f::DUE, 112), (f::SEVERITY, 112)]),
                tallies: vec![Tally { field: f::HOURS, figure: Figure::Sum }],
                shape: Shape::CrossTab(CrossTab {
                    across: vec![GroupBy { by: Bucket::Month, ..GroupBy::of(f::REPORTED) }],
                    within: Some(f::STATUS),
                    order: CrossOrder::Most,
                    ..CrossTab::by(GroupBy::of(f::DISTRICT))
                }),
                ..Query::default()
            },
        ),
        view(
            115,
            o::TABLE,
            "Who is out when",
            Query {
                sorts: vec![up(o::NUMBER)],
                fields: shown(&[
                    (o::FAULTS, 320),
                    (o::NUMBER, 130),
                    (o::LEADER, 170),
                    (o::HOURS, 120),
                    (o::PLANNED, 120),
                    (o::FINISHED, 120),
                ]),
                tallies: vec![Tally { field: o::HOURS, figure: Figure::Sum }],
                shape: Shape::Calendar(Almanac {
                    cap: Some(54.into()),
                    ..Almanac::by([o::PLANNED, o::FINISHED].map(AlmanacDate::of).to_vec())
                }),
                ..Query::default()
            },
        ),
        view(
            116,
            o::TABLE,
            "Crews by the hour",
            Query {
                sorts: vec![up(o::NUMBER)],
                fields: shown(&[(o::FAULTS, 320), (o::NUMBER, 130), (o::LEADER, 170), (o::HOURS, 120), (o::BEGINS, 160)]),
                tallies: vec![Tally { field: o::HOURS, figure: Figure::Sum }],
                shape: Shape::Calendar(Almanac {
                    cap: Some(54.into()),
                    who: Some(o::LEADER),
                    lasts: Some(o::HOURS),
                    beneath: Some(Beneath { table: p::TABLE, date: AlmanacDate::of(p::WHEN), who: Some(p::LEADER) }),
                    ..Almanac::by(vec![AlmanacDate::of(o::BEGINS)])
                }),
                ..Query::default()
            },
        ),
        view(
            114,
            s::TABLE,
            "Where the paths are",
            Query {
                groups: vec![GroupBy::of(s::DISTRICT)],
                sorts: vec![up(s::NUMBER)],
                fields: shown(&[(s::NAME, 280), (s::NUMBER, 100), (s::LENGTH, 100), (s::SURFACE, 130), (s::NEXT, 140), (s::OPEN, 110)]),
                tallies: [s::LENGTH, s::OPEN].map(|field| Tally { field, figure: Figure::Sum }).to_vec(),
                shape: Shape::Cards(Cards {
                    picture: Some(s::PICTURE),
                    length: Some(s::LENGTH),
                    strokes: Some(s::OPEN),
                    ..Cards::default()
                }),
                ..Query::default()
            },
        ),
        view(
            104,
            s::TABLE,
            "All sections",
            Query {
                groups: vec![GroupBy::of(s::DISTRICT)],
                sorts: vec![up(s::NUMBER)],
                fields: shown(&[
                    (s::NUMBER, 100),
                    (s::NAME, 280),
                    (s::SURFACE, 130),
                    (s::LENGTH, 100),
                    (s::DIFFICULTY, 110),
                    (s::INSPECTED, 130),
                    (s::NEXT, 140),
                    (s::OPEN, 110),
                    (s::WARDEN, 180),
                    (s::PICTURE, 120),
                ]),
                tallies: vec![Tally { field: s::LENGTH, figure: Figure::Sum }],
                ..Query::default()
            },
        ),
        view(
            105,
            d::TABLE,
            "All districts",
            Query {
                sorts: vec![up(d::NAME)],
                fields: shown(&[
                    (d::NAME, 160),
                    (d::WARDEN, 190),
                    (d::SECTION_COUNT, 130),
                    (d::OPEN, 120),
                    (d::BUDGET, 140),
                    (d::SPENT, 140),
                    (d::LEFT, 140),
                ]),
                tallies: [d::OPEN, d::BUDGET, d::SPENT, d::LEFT].map(|field| Tally { field, figure: Figure::Sum }).to_vec(),
                ..Query::default()
            },
        ),
        view(
            106,
            o::TABLE,
            "All work orders",
            Query {
                groups: vec![GroupBy::of(o::DISTRICT)],
                sorts: vec![down(o::NUMBER)],
                fields: shown(&[
                    (o::NUMBER, 130),
                    (o::FAULTS, 320),
                    (o::PLANNED, 120),
                    (o::HOURS, 120),
                    (o::RATE, 110),
                    (o::MATERIALS, 130),
                    (o::TOTAL, 120),
                    (o::LEADER, 170),
                ]),
                tallies: [o::HOURS, o::MATERIALS, o::TOTAL].map(|field| Tally { field, figure: Figure::Sum }).to_vec(),
                ..Query::default()
            },
        ),
        view(
            107,
            l::TABLE,
            "All material lines",
            Query {
                groups: vec![GroupBy::of(l::ORDER)],
                fields: shown(&[(l::WHAT, 320), (l::MATERIAL, 220), (l::QUANTITY, 110), (l::PRICE, 120), (l::COST, 120)]),
                tallies: vec![Tally { field: l::COST, figure: Figure::Sum }],
                ..Query::default()
            },
        ),
        view(
            108,
            m::TABLE,
            "All materials",
            Query {
                sorts: vec![up(m::NAME)],
                fields: shown(&[(m::NAME, 240), (m::UNIT, 90), (m::PRICE, 120), (m::SUPPLIER, 220), (m::STOCK, 100), (m::USED, 120)]),
                ..Query::default()
            },
        ),
    ]
}

fn roles() -> Vec<Role> {
    use {districts as d, faults as f, lines as l, materials as m, orders as o, parties as p, sections as s, volunteers as v};
    let role = |id: u32, name: &str, base, members: &[u32], groups: &[GroupId], tables| Role {
        id: RoleId::new(id).expect("not zero"),
        name: name.into(),
        base,
        members: members.iter().map(|n| person_id(*n)).collect::<BTreeSet<_>>(),
        groups: groups.iter().copied().collect(),
        about: String::new(),
        tables,
    };
    let me = || Check::Person { not: false, any: vec![Who::Me] };
    let mine = |path: &[FieldId]| Reach::Where(test(path, me()));
    let fault_reach = mine(&[f::SECTION, s::DISTRICT, d::WARDEN]);
    let section_reach = mine(&[s::DISTRICT, d::WARDEN]);
    let order_reach = mine(&[o::DISTRICT, d::WARDEN]);
    let line_reach = mine(&[l::ORDER, o::DISTRICT, d::WARDEN]);
    let party_reach = mine(&[p::SECTIONS, s::DISTRICT, d::WARDEN]);
    let warden = BTreeMap::from([
        (d::TABLE, TableRights { look: mine(&[d::WARDEN]), ..TableRights::default() }),
        (s::TABLE, TableRights { look: section_reach.clone(), change: section_reach, ..TableRights::default() }),
        (f::TABLE, TableRights { look: fault_reach.clone(), add: true, change: fault_reach, ..TableRights::default() }),
        (m::TABLE, TableRights { look: Reach::All, ..TableRights::default() }),
        (o::TABLE, TableRights { look: order_reach.clone(), add: true, change: order_reach, ..TableRights::default() }),
        (l::TABLE, TableRights { look: line_reach.clone(), add: true, change: line_reach, ..TableRights::default() }),
        (v::TABLE, TableRights { look: mine(&[v::DISTRICT, d::WARDEN]), ..TableRights::default() }),
        (p::TABLE, TableRights { look: party_reach.clone(), add: true, change: party_reach, ..TableRights::default() }),
    ]);
    let hide = |fields: &[FieldId]| fields.iter().map(|field| (*field, FieldRight::Hidden)).collect::<BTreeMap<_, _>>();
    let trustee = BTreeMap::from([
        (f::TABLE, TableRights { look: Reach::All, fields: hide(&[f::REPORTER, f::MAIL, f::PHONE]), ..TableRights::default() }),
        (v::TABLE, TableRights { look: Reach::All, fields: hide(&[v::MAIL, v::PHONE, v::INDUCTED]), ..TableRights::default() }),
    ]);
    let only_read = |fields: &[FieldId]| fields.iter().map(|field| (*field, FieldRight::Read)).collect::<BTreeMap<_, _>>();
    let on_it = Reach::Where(test(&[p::VOLUNTEERS], Check::MyRecord { not: false }));
    let volunteer = BTreeMap::from([
        (d::TABLE, TableRights::default()),
        (
            s::TABLE,
            TableRights { look: Reach::All, fields: hide(&[s::DISTRICT, s::WARDEN, s::INSPECTED, s::FAULTS]), ..TableRights::default() },
        ),
        (m::TABLE, TableRights::default()),
        (l::TABLE, TableRights::default()),
        (o::TABLE, TableRights::default()),
        (
            v::TABLE,
            TableRights {
                look: Reach::Mine,
                change: Reach::Mine,
                fields: only_read(&[v::MAIL, v::JOINED, v::INDUCTED, v::ACTIVE, v::DISTRICT, v::PARTIES]),
                ..TableRights::default()
            },
        ),
        (p::TABLE, TableRights { look: on_it, released: BTreeSet::from([p::HOURS]), ..TableRights::default() }),
    ]);
    vec![
        role(110, "Steward", Base::Steward, &[1], &[], BTreeMap::new()),
        role(111, "Warden", Base::Own, &[], &[WARDENS], warden),
        role(112, "Office", Base::Editor, &[], &[OFFICE], BTreeMap::new()),
        role(113, "Trustee", Base::Reader, &[7], &[], trustee),
        role(114, "Volunteer", Base::Submitter, &[8], &[], volunteer),
    ]
}

/// What happens by itself. Switched on last, so that the faults of the past send nothing.
pub(crate) fn automations() -> Vec<Part> {
    [of_blocked_paths(), of_what_is_late(), of_what_was_made_good()].map(Part::Automation).into()
}

fn automation(id: u32, name: &str, when: Occasion, condition: Condition, step: Step) -> Automation {
    Automation {
        id: AutomationId::new(id).expect("not zero"),
        table: faults::TABLE,
        name: name.into(),
        on: true,
        when,
        condition,
        steps: vec![step],
        before: Default::default(),
        acts_for: Some(westerfall_core::id::PersonId::FIRST),
        unsaid: false,
        draft: None,
    }
}

/// On each working morning the wardens are told what of theirs is late, each in one message.
fn of_what_is_late() -> Automation {
    use {districts as d, faults as f, sections as s};
    let text = |t: &str| Piece::Text(t.into());
    let value = |field: FieldId| Piece::Value(vec![field]);
    let late = test(&[f::DUE], Check::Day { how: Comparison::Under, than: When::Today(0) });
    let step = Step::Mail {
        to: Recipient::Field(vec![f::SECTION, s::DISTRICT, d::WARDEN]),
        subject: Wording(vec![text("What is late on your paths")]),
        body: Wording(vec![value(f::NUMBER), text(" "), value(f::TITLE), text(": "), value(f::SEVERITY), text(", due "), value(f::DUE)]),
        digest: true,
        reply: None,
        encloses: None,
        text: None,
    };
    let when = Occasion::Every { round: Round::WorkingDays, at: Hour(7 * 60) };
    automation(LATE, "What is late, each morning", when, Condition::All(vec![status_open(), late]), step)
}

/// Whoever reported a fault is told when it is made good.
fn of_what_was_made_good() -> Automation {
    use faults as f;
    let text = |t: &str| Piece::Text(t.into());
    let value = |path: &[FieldId]| Piece::Value(path.to_vec());
    let good = test(&[f::STATUS], Check::Option { not: false, any: vec![STATUSES[4]] });
    let step = Step::Mail {
        to: Recipient::Field(vec![f::MAIL]),
        subject: Wording(vec![text("Made good: "), value(&[f::TITLE])]),
        body: Wording(vec![
            text("Thank you for telling us. What you reported on "),
            value(&[f::SECTION]),
            text(" has been made good.\n\nOrrindale Paths Trust"),
        ]),
        digest: false,
        reply: None,
        encloses: None,
        text: None,
    };
    let condition = Condition::All(vec![good, test(&[f::MAIL], Check::Filled)]);
    automation(MADE_GOOD, "Tell who reported it", Occasion::Changed(vec![f::STATUS]), condition, step)
}

/// The warden is told when something blocked or dangerous comes in.
fn of_blocked_paths() -> Automation {
    use {districts as d, faults as f, sections as s};
    let text = |t: &str| Piece::Text(t.into());
    let value = |path: &[FieldId]| Piece::Value(path.to_vec());
    let subject = Wording(vec![value(&[f::SEVERITY]), text(": "), value(&[f::TITLE])]);
    let body = Wording(vec![
        text("A fault came in on "),
        value(&[f::SECTION, s::NUMBER]),
        text(" "),
        value(&[f::SECTION]),
        text(" ("),
        value(&[f::DISTRICT]),
        text(").\n\n"),
        value(&[f::NUMBER]),
        text(": "),
        value(&[f::TITLE]),
        text("\nIt is about: "),
        value(&[f::KIND]),
        text("\nSeverity: "),
        value(&[f::SEVERITY]),
        text("\n\n"),
        value(&[f::DESCRIPTION]),
        text("\n\nReported by "),
        value(&[f::REPORTER]),
        text(" "),
        value(&[f::PHONE]),
    ]);
    // What the warden does next, not how the fault ends.
    let choice = |words: &str, status| {
        let to = Alter::Set(Input::Value(Value::Choice(status)));
        ReplyChoice { words: words.into(), alter: vec![Altered { field: f::STATUS, to }] }
    };
    let answers = ReplyBy::Choices(vec![choice("I’ll go and look", STATUSES[1]), choice("Call the crew", STATUSES[2])]);
    let reply = Some(Reply { answers, facts: vec![f::SECTION, f::SEVERITY, f::DUE, f::STATUS], days: 3 });
    let to = Recipient::Field(vec![f::SECTION, s::DISTRICT, d::WARDEN]);
    let step = Step::Mail { to, subject, body, digest: false, reply, encloses: None, text: None };
    let when = Occasion::Form(FormId::new(FORM));
    automation(AUTOMATION, "Tell the warden of blocked paths", when, Condition::All(vec![severe()]), step)
}

/// All parts but the automations.
pub(crate) fn parts() -> Vec<Part> {
    let parts = tables()
        .into_iter()
        .map(crate::arrangement::arranged)
        .map(crate::rounds::in_rounds)
        .map(Part::Table)
        .chain(views().into_iter().chain(of_parties::views()).map(Part::View));
    let parts = parts.chain(crate::highlights::highlights().into_iter().map(Part::Highlight)).chain(crate::documents::documents());
    parts.chain(crate::forms::forms().map(Part::Form)).chain(roles().into_iter().map(Part::Role)).collect()
}
