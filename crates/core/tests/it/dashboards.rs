//! Dashboards: what a statement makes of its lines, what each tile tells whom, and who may change them.

use crate::fixture::*;
use jiff::{Timestamp, civil::Date};
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Lens},
    condition::{Check, Condition, Quantity, Test},
    dashboard::{
        BoardCondition, Dashboard, DashboardOpen, Draws, Line, LineOf, LineRecords, LineSign, Statement, StatementTold, Tile, TileShows,
        TileView,
    },
    dataset::Dataset,
    export::EntryTime,
    fault::Faults,
    figure::Figure,
    id::{PersonId, RecordId, TrackerId},
    intent::{Edit, Intent},
    people::Group,
    sentence::as_text,
    team::{DashboardWish, Team, TeamAsker, TeamChange, TeamIntent, TeamPart},
    value::{Cell, Input, Value},
    view::{Bucket, CrossLead, CrossTab, GroupBy, Order, Query, Shape, ShownField, Tally},
};

fn upkeep() -> TrackerId {
    TrackerId::new(1).unwrap()
}

fn line(words: &str, of: LineOf) -> Line {
    Line::of(words, of)
}

fn open(ds: &Dataset) -> Condition {
    let any = vec![option(ds, "Faults.Status.made good"), option(ds, "Faults.Status.no action")];
    Condition::Test(Test { path: vec![field(ds, "Faults.Status")], of: Quantity::Any, check: Check::Option { not: true, any } })
}

fn of_faults(ds: &Dataset) -> LineRecords {
    LineRecords::of(table(ds, "Faults"))
}

fn hours(ds: &Dataset) -> LineRecords {
    LineRecords { figure: Some(Tally { field: field(ds, "Faults.Hours needed"), figure: Figure::Sum }), ..of_faults(ds) }
}

fn told(ds: &Dataset, who: Asker, run: Option<Bucket>, lines: Vec<Line>) -> StatementTold {
    let clock = clock();
    Statement { tracker: upkeep(), run, lines }.told(&Lens::new(ds, who, &clock), &[])
}

fn drawn(told: &StatementTold) -> String {
    let line = |line: &westerfall_core::dashboard::StatementLine| {
        let cells = [&line.sign, &line.words, &line.now, &line.before, &line.change, &line.refused];
        cells.into_iter().filter(|cell| !cell.is_empty()).cloned().collect::<Vec<_>>().join(" | ")
    };
    let mut lines = vec![told.heads.join(" | ")];
    lines.extend(told.lines.iter().map(line));
    lines.join("\n")
}

#[test]
fn a_statement_reads_as_an_account() {
    let ds = demo();
    let day = Some(field(&ds, "Faults.Reported on"));
    let lines = vec![
        line("reported", LineOf::Records(LineRecords { day, ..of_faults(&ds) })),
        line("of them still open", LineOf::Records(LineRecords { day, condition: open(&ds), sign: LineSign::Minus, ..of_faults(&ds) })),
        line("done with", LineOf::Total),
        line("share done with", LineOf::Share { part: 2, whole: 0 }),
        line("hours needed", LineOf::Records(LineRecords { day, sign: LineSign::Beside, ..hours(&ds) })),
        line("hours for each", LineOf::Per { what: 4, each: 0 }),
        line("open now", LineOf::Records(LineRecords { condition: open(&ds), ..of_faults(&ds) })),
    ];
    let nadia = asker(&ds, "Nadia");
    insta::assert_snapshot!("statement_month", drawn(&told(&ds, nadia, Some(Bucket::Month), lines.clone())));
    insta::assert_snapshot!("statement_year", drawn(&told(&ds, nadia, Some(Bucket::Year), lines.clone())));
    // Of all days, nothing stands beside.
    let plain = told(&ds, nadia, None, lines);
    assert!(plain.heads.is_empty() && plain.lines.iter().all(|line| line.before.is_empty() && line.change.is_empty()));
}

#[test]
fn a_figure_over_nothing_and_a_share_of_nothing_are_no_faults() {
    let ds = demo();
    let never = LineRecords { condition: Condition::never(), ..hours(&ds) };
    let lines = vec![
        line("nothing", LineOf::Records(never.clone())),
        line("counted", LineOf::Records(LineRecords { figure: None, sign: LineSign::Beside, ..never })),
        line("share", LineOf::Share { part: 1, whole: 1 }),
        line("per", LineOf::Per { what: 0, each: 1 }),
        line("above nothing", LineOf::Share { part: 9, whole: 1 }),
        line("all", LineOf::Total),
    ];
    insta::assert_snapshot!(drawn(&told(&ds, asker(&ds, "Nadia"), None, lines)), @r"
    + | nothing | 0.0 h
    counted | 0
    share | –
    per | –
    above nothing | A line that it is made of tells nothing.
    = | all | 0.0 h
    ");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]

    /// A line told run by run counts the days of that run up to today, and those of the run before up to the same day.
    #[test]
    fn runs_are_counted_to_the_same_day(condition in any_condition(), run in prop::sample::select(vec![Bucket::Week, Bucket::Month, Bucket::Quarter, Bucket::Year])) {
        let (ds, clock) = (demo(), clock());
        let at = table(&ds, "Faults");
        let reported = field(&ds, "Faults.Reported on");
        let lens = Lens::of_everything(&ds, None, &clock);
        let of = LineRecords { day: Some(reported), condition: condition.clone(), ..of_faults(&ds) };
        let told = Statement { tracker: upkeep(), run: Some(run), lines: vec![line("in it", LineOf::Records(of))] }.told(&lens, &[]);
        let today = clock.today();
        let start = run.start(today);
        let far = (today.duration_since(start).as_hours() / 24).max(0);
        let before = run.start(start.yesterday().unwrap());
        let counted = |from: Date, to: Date| {
            let there = records(&ds, at).into_iter().filter(|r| condition.holds(&lens, at, *r));
            there.filter(|r| matches!(lens.reader(at, reported).cell(r.row()), Cell::Date(day) if day >= from && day <= to)).count()
        };
        let same = before.checked_add(jiff::Span::new().days(far)).unwrap().min(start.yesterday().unwrap());
        prop_assert_eq!(&told.lines[0].now, &counted(start, today).to_string());
        prop_assert_eq!(&told.lines[0].before, &counted(before, same).to_string());
    }
}

fn list(ds: &Dataset) -> TileView {
    let shown = |name: &str| ShownField { field: field(ds, &format!("Faults.{name}")), width: 100 };
    TileView {
        tracker: upkeep(),
        table: table(ds, "Faults"),
        query: Query {
            condition: open(ds),
            sorts: vec![Order { field: field(ds, "Faults.Hours needed"), descending: true }],
            fields: vec![shown("What is wrong"), shown("Hours needed")],
            ..Query::default()
        },
        draws: Draws::Table,
        most: 5,
    }
}

#[test]
fn a_tile_tells_what_its_reader_may_see() {
    let (ds, clock) = (demo(), clock());
    let all = |who: &str, shows: &TileShows| shows.told(&Lens::new(&ds, asker(&ds, who), &clock), &[]);
    let tile = TileShows::View(Box::new(list(&ds)));
    let nadia = all("Nadia", &tile);
    insta::assert_snapshot!(as_text(&nadia.sentence), @"Faults where status is not made good or no action, most hours needed first, the first 5, with what is wrong and hours needed.");
    assert_eq!(nadia.records.len(), 5);
    let tamsin = all("Tamsin", &tile);
    let seen = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    assert!(tamsin.records.iter().all(|record| seen.sees(table(&ds, "Faults"), *record)));
    assert_ne!(nadia.counted, tamsin.counted);
    // Bars of a cross-tab, with its sentence as a title.
    let bars = TileView {
        query: Query { shape: Shape::CrossTab(CrossTab::by(GroupBy::of(field(&ds, "Faults.District")))), ..list(&ds).query },
        draws: Draws::Bars,
        ..list(&ds)
    };
    let told = all("Nadia", &TileShows::View(Box::new(bars)));
    assert!(told.crossed.is_some() && told.records.is_empty());
    insta::assert_snapshot!(as_text(&told.sentence), @"Faults where status is not made good or no action, district down, counted.");
    // A table that is closed to somebody, or gone, says no more than that.
    let gone = TileView { table: westerfall_core::id::TableId::new(999).unwrap(), ..list(&ds) };
    assert_eq!(all("Nadia", &TileShows::View(Box::new(gone))).refused, "This is of something that is not open to you.");
    // A field that is gone is said, where one may know of it.
    let lost =
        Query { sorts: vec![Order { field: westerfall_core::id::FieldId::new(9_999).unwrap(), descending: false }], ..list(&ds).query };
    insta::assert_snapshot!(all("Nadia", &TileShows::View(Box::new(TileView { query: lost, ..list(&ds) }))).refused, @"This view names a field that is not there any more.");
}

#[test]
fn a_line_says_how_far_it_has_come_to_what_is_wanted() {
    let ds = demo();
    let all = records(&ds, table(&ds, "Faults")).len();
    let wanting = |target: i64, of: LineOf| Line { target: Some(target.into()), ..line("x", of) };
    let here = i64::try_from(all).unwrap();
    let lines = vec![
        wanting(here + 40, LineOf::Records(of_faults(&ds))),
        wanting(here, LineOf::Records(of_faults(&ds))),
        wanting(here - 20, LineOf::Records(of_faults(&ds))),
        wanting(0, LineOf::Records(of_faults(&ds))),
        line("none", LineOf::Records(of_faults(&ds))),
        Line { target: Some("0.5".parse().unwrap()), ..line("share", LineOf::Share { part: 0, whole: 1 }) },
    ];
    let told = told(&ds, asker(&ds, "Nadia"), None, lines);
    let said: Vec<&str> = told.lines.iter().map(|line| line.wanted.as_str()).collect();
    let (more, less) = (all + 40, all - 20);
    let expected = [
        format!("{more} wanted, 40 to go"),
        format!("{all} wanted, reached"),
        format!("{less} wanted, 20 beyond"),
        format!("0 wanted, {all} beyond"),
        String::new(),
        "50\u{a0}% wanted, 50\u{a0}% beyond".into(),
    ];
    assert_eq!(said, expected);
    let reached: Vec<Option<bool>> = told.lines.iter().map(|line| line.reached.map(|share| share >= rust_decimal::Decimal::ONE)).collect();
    // Of nothing wanted there is no share.
    assert_eq!(reached, [Some(false), Some(true), Some(true), None, None, Some(true)]);
}

fn only(ds: &Dataset, condition: Condition) -> BoardCondition {
    BoardCondition { tracker: upkeep(), table: table(ds, "Faults"), condition }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// What holds of the page holds of every tile besides its own condition, for whoever looks; of other tables and trackers it says
    /// nothing.
    #[test]
    fn what_holds_of_the_page_holds_of_each_tile(of_page in any_condition(), mine in any_condition(), who in prop::sample::select(vec!["Nadia", "Tamsin", "Bex"])) {
        let (ds, clock) = (demo(), clock());
        let at = table(&ds, "Faults");
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        let conditions = [only(&ds, of_page.clone()), only(&ds, mine.clone())];
        let both: Vec<RecordId> = lens.records(at).filter(|r| [&of_page, &mine, &open(&ds)].iter().all(|c| c.holds(&lens, at, *r))).collect();
        let names_closed = [&of_page, &mine].iter().any(|condition| condition.check_for(&lens, at).is_err());
        let tile = TileShows::View(Box::new(TileView { most: 100, ..list(&ds) }));
        let told = tile.told(&lens, &conditions);
        if names_closed {
            prop_assert!(told.records.is_empty() && !told.refused.is_empty());
            return Ok(());
        }
        let mut shown = told.records.clone();
        shown.sort();
        prop_assert_eq!(&shown[..], &both[..]);
        // The tile's title stays its own.
        prop_assert_eq!(as_text(&told.sentence), as_text(&tile.told(&lens, &[]).sentence));
        let counted = Statement { tracker: upkeep(), run: None, lines: vec![line("open", LineOf::Records(LineRecords { condition: open(&ds), ..of_faults(&ds) }))] };
        prop_assert_eq!(&counted.told(&lens, &conditions).lines[0].now, &both.len().to_string());
        let elsewhere = BoardCondition { tracker: westerfall_core::id::TrackerId::new(9).unwrap(), ..only(&ds, Condition::never()) };
        let orders = BoardCondition { table: table(&ds, "Work orders"), ..only(&ds, Condition::never()) };
        prop_assert_eq!(tile.told(&lens, &[elsewhere, orders]).records, tile.told(&lens, &[]).records);
    }
}

#[test]
fn a_page_has_one_condition_for_each_table_and_says_it() {
    let (ds, clock) = (demo(), clock());
    let condition = only(&ds, open(&ds));
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    assert_eq!(as_text(&condition.sentence(&lens)), "faults where status is not made good or no action");
    let mut team = team();
    let board = made(&mut team, 1);
    let twice = Dashboard { only: vec![condition.clone(), condition.clone()], ..board.clone() };
    let fault = wish(&mut team, 1, DashboardWish::Keep(Box::new(twice))).unwrap_err().0.remove(0);
    assert_eq!((fault.pointer.as_str(), fault.message.contains("one condition for each table")), ("/only", true));
    let once = Dashboard { only: vec![condition], ..board };
    wish(&mut team, 1, DashboardWish::Keep(Box::new(once.clone()))).unwrap();
    assert_eq!(team.dashboard(once.id).unwrap().only, once.only);
}

#[test]
fn parts_are_of_what_adds_up_and_dots_stand_by_two_numbers() {
    let (ds, clock) = (demo(), clock());
    let all = |view: TileView| TileShows::View(Box::new(view)).told(&Lens::new(&ds, asker(&ds, "Nadia"), &clock), &[]);
    let by = |name: &str| GroupBy::of(field(&ds, &format!("Faults.{name}")));
    let parts = |tab: CrossTab, tallies: Vec<Tally>| {
        let query = Query { shape: Shape::CrossTab(tab), tallies, sorts: Vec::new(), ..list(&ds).query };
        all(TileView { query, draws: Draws::Parts, ..list(&ds) })
    };
    let hours = |figure| vec![Tally { field: field(&ds, "Faults.Hours needed"), figure }];
    let figure = |name: &str| CrossTab { leads: CrossLead::Figure, ..CrossTab::by(by(name)) };
    assert_eq!(parts(CrossTab::by(by("District")), Vec::new()).refused, "");
    assert_eq!(parts(figure("District"), hours(Figure::Sum)).refused, "");
    assert!(parts(figure("District"), hours(Figure::Average)).refused.contains("Only what adds up has parts"));
    let across = CrossTab { across: vec![by("Status")], ..CrossTab::by(by("District")) };
    assert!(parts(across, Vec::new()).refused.contains("nothing across"));
    // Dots: each record that has both, and how many lack one of the two.
    let shown = |name: &str| ShownField { field: field(&ds, &format!("Faults.{name}")), width: 100 };
    let query = |fields| Query { fields, ..list(&ds).query };
    let dots = all(TileView {
        query: query(vec![shown("Hours needed"), shown("What is wrong"), shown("Days open")]),
        draws: Draws::Dots,
        ..list(&ds)
    });
    let told = dots.dots.unwrap();
    assert_eq!((told.across.as_str(), told.up.as_str()), ("hours needed", "days open"));
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let at = table(&ds, "Faults");
    let has = |record: &RecordId, name: &str| !lens.text_at(at, *record, field(&ds, &format!("Faults.{name}"))).is_empty();
    let open_ones = records(&ds, at).into_iter().filter(|r| open(&ds).holds(&lens, at, *r)).collect::<Vec<_>>();
    let both = open_ones.iter().filter(|r| has(r, "Hours needed") && has(r, "Days open")).count();
    assert_eq!(told.dots.len(), both);
    assert_eq!(told.says.contains("lack one of the two"), both < open_ones.len(), "{}", told.says);
    let one = all(TileView { query: query(vec![shown("What is wrong"), shown("Hours needed")]), draws: Draws::Dots, ..list(&ds) });
    assert!(one.refused.contains("two fields of numbers"), "{}", one.refused);
}

#[test]
fn the_days_that_come_are_in_their_order_from_today_on() {
    let (mut ds, clock) = (demo(), clock());
    let view = ds.views().find(|view| view.name == "Who is out when").unwrap().clone();
    let Shape::Calendar(almanac) = &view.query.shape else { panic!("it is a calendar") };
    let planned = almanac.dates[0].start;
    let orders = records(&ds, view.table);
    let nadia = asker(&ds, "Nadia");
    for (record, days) in orders.iter().zip([4, 0, -3, 1, 4, 2]) {
        let day = clock.today().checked_add(jiff::Span::new().days(days)).unwrap();
        let edits = vec![Edit { field: planned, input: Input::Value(Value::Date(day)), was: None }];
        act(&mut ds, nadia, &Intent::Edit { table: view.table, record: *record, edits }).unwrap();
    }
    let days = |most: u16, who: &str| {
        let tile = TileView { tracker: upkeep(), table: view.table, query: view.query.clone(), draws: Draws::Table, most };
        TileShows::View(Box::new(tile)).told(&Lens::new(&ds, asker(&ds, who), &clock), &[]).days.unwrap_or_default()
    };
    let all = days(100, "Nadia");
    assert!(!all.is_empty());
    assert_eq!(days(3, "Nadia").iter().map(|day| day.entries.len()).sum::<usize>(), 3);
    // Each entry is of a day that has not gone by.
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let told = view.query.entries(&lens, view.table).unwrap().entries;
    let coming = told.iter().filter(|entry| match entry.time {
        EntryTime::Days(_, last) => last >= clock.today(),
        EntryTime::Hours(_, until) => until.to_zoned(clock.zone.clone()).date() >= clock.today(),
    });
    assert_eq!(all.iter().map(|day| day.entries.len()).sum::<usize>(), coming.count());
    insta::assert_snapshot!(
        "the_days_that_come",
        days(6, "Nadia")
            .iter()
            .map(|day| {
                let entries =
                    day.entries.iter().map(|entry| format!("  {} | {} | {}", entry.title, entry.about, entry.at)).collect::<Vec<_>>();
                format!("{}\n{}", day.text, entries.join("\n"))
            })
            .collect::<Vec<_>>()
            .join("\n")
    );
}

#[test]
fn a_line_of_what_is_not_open_tells_nothing_and_neither_does_what_is_made_of_it() {
    let ds = demo();
    let closed = LineRecords::of(westerfall_core::id::TableId::new(999).unwrap());
    let lines = vec![
        line("closed", LineOf::Records(closed)),
        line("open", LineOf::Records(of_faults(&ds))),
        line("share", LineOf::Share { part: 1, whole: 0 }),
        line("all", LineOf::Total),
    ];
    let told = told(&ds, asker(&ds, "Nadia"), None, lines);
    assert_eq!(told.lines[0].refused, "This is not open to you, or not there any more.");
    assert_eq!(told.lines[2].refused, "A line that it is made of tells nothing.");
    assert_eq!(told.lines[3].now, told.lines[1].now, "a total is of the lines that tell something");
}

fn person(number: u32) -> PersonId {
    PersonId::new(number).unwrap()
}

/// The demo's people, of whom the first owns the team.
fn team() -> Team {
    let ds = demo();
    let mut team = Team::at(1);
    for known in ds.people.iter() {
        let owner = known.id == person(1);
        team.load_part(TeamPart::Person(westerfall_core::people::Person { owner, ..known.clone() }));
    }
    let wardens =
        Group { id: westerfall_core::id::GroupId::new(1).unwrap(), name: "Wardens".into(), members: [person(2)].into(), pins: Vec::new() };
    team.load_part(TeamPart::Group(wardens));
    let named = TeamIntent::Rename("Orrindale Paths Trust".into());
    team.apply(&team.decide(&named, &TeamAsker::Westerfall, Timestamp::UNIX_EPOCH).unwrap());
    team
}

fn who(number: u32) -> TeamAsker {
    TeamAsker::Person { me: person(number), lets_in: false, runs: std::sync::Arc::default() }
}

fn wish(team: &mut Team, by: u32, wish: DashboardWish) -> Result<TeamChange, Faults> {
    let change = team.decide(&TeamIntent::Dashboard(wish), &who(by), Timestamp::UNIX_EPOCH)?;
    team.apply(&change);
    Ok(change)
}

fn made(team: &mut Team, by: u32) -> Dashboard {
    let change = wish(team, by, DashboardWish::Make { name: "  The season \n so far".into() }).unwrap();
    team.dashboard(change.made_dashboard().unwrap()).unwrap().clone()
}

#[test]
fn a_dashboard_is_made_opened_changed_and_taken_back() {
    let mut team = team();
    let board = made(&mut team, 3);
    assert_eq!((board.name.as_str(), board.owner, board.open.clone()), ("The season so far", person(3), DashboardOpen::Own));
    // Nobody else knows of it, the team's owner either.
    assert!(team.dashboards_for(person(1)).is_empty() && team.dashboards_for(person(2)).is_empty());
    let renamed = |name: &str, open| DashboardWish::Keep(Box::new(Dashboard { name: name.into(), open, ..board.clone() }));
    assert_eq!(
        wish(&mut team, 1, renamed("Mine", DashboardOpen::Team)).unwrap_err().0[0].message,
        "There is no such dashboard here, or it is not open to you."
    );
    let wardens: std::collections::BTreeSet<_> = [westerfall_core::id::GroupId::new(1).unwrap()].into();
    let change = wish(&mut team, 3, renamed("The season so far", DashboardOpen::Groups(wardens))).unwrap();
    assert_eq!(change.did(), "said to whom the dashboard The season so far is open");
    assert_eq!(team.dashboards_for(person(2)).len(), 1);
    assert_eq!(team.dashboards_for(person(2))[0].open_says(team.people()), "Open to Wardens; it counts what its reader may see");
    assert!(team.dashboards_for(person(4)).is_empty());
    // Whoever only looks changes nothing; whoever made it takes it back.
    let tamsin = wish(&mut team, 2, renamed("Hers", DashboardOpen::Team));
    assert_eq!(tamsin.unwrap_err().0[0].message, "This dashboard is changed by whoever made it, and by the team’s owners.");
    let back = team.decide(&TeamIntent::Undo(Box::new(change)), &who(3), Timestamp::UNIX_EPOCH).unwrap();
    team.apply(&back);
    assert_eq!(team.dashboard(board.id).unwrap().open, DashboardOpen::Own);
    // Taken away, it is gone; taken back, it is there again.
    let gone = wish(&mut team, 3, DashboardWish::Drop(board.id)).unwrap();
    assert!(team.dashboard(board.id).is_none());
    let back = team.decide(&TeamIntent::Undo(Box::new(gone)), &who(3), Timestamp::UNIX_EPOCH).unwrap();
    assert_eq!(back.did(), "brought back the dashboard The season so far");
    team.apply(&back);
    assert!(team.dashboard(board.id).is_some());
}

#[test]
fn whose_a_dashboard_is_goes_over_with_whoever_leaves_and_never_else() {
    let mut team = team();
    let board = made(&mut team, 3);
    let mine = DashboardWish::Keep(Box::new(Dashboard { owner: person(1), ..board.clone() }));
    assert!(wish(&mut team, 1, mine).is_err(), "the team’s owner takes nobody’s dashboard");
    assert_eq!(
        team.held_by(person(3), 2).iter().map(|held| held.words.as_str()).collect::<Vec<_>>(),
        ["2 things that were asked of them are not done", "1 dashboard: The season so far"]
    );
    let leaves = |to: u32| TeamIntent::LeaveBoards { person: person(3), to: person(to) };
    for (by, to) in [(2, 2), (1, 3), (1, 99)] {
        assert!(team.decide(&leaves(to), &who(by), Timestamp::UNIX_EPOCH).is_err(), "{by} gives it to {to}");
    }
    let left = team.decide(&leaves(2), &who(1), Timestamp::UNIX_EPOCH).unwrap();
    assert!(left.did().starts_with("let ") && left.did().ends_with(" go"), "{}", left.did());
    team.apply(&left);
    assert_eq!((team.dashboard(board.id).unwrap().owner, team.dashboards_for(person(2)).len()), (person(2), 1));
    assert!(team.held_by(person(3), 0).is_empty());
    let back = team.decide(&TeamIntent::Undo(Box::new(left)), &who(1), Timestamp::UNIX_EPOCH).unwrap();
    team.apply(&back);
    assert_eq!(team.dashboard(board.id), Some(&board));
}

#[test]
fn a_group_that_goes_closes_what_was_open_to_it_alone() {
    let mut team = team();
    let board = made(&mut team, 3);
    let group = westerfall_core::id::GroupId::new(1).unwrap();
    wish(&mut team, 3, DashboardWish::Keep(Box::new(Dashboard { open: DashboardOpen::Groups([group].into()), ..board.clone() }))).unwrap();
    let dropped = team.decide(&TeamIntent::DropGroup(group), &who(1), Timestamp::UNIX_EPOCH).unwrap();
    team.apply(&dropped);
    assert_eq!(team.dashboard(board.id).unwrap().open, DashboardOpen::Own);
}

#[test]
fn what_can_not_stand_is_said_at_its_place() {
    let mut team = team();
    let board = made(&mut team, 3);
    let tile = |key, shows| Tile { key, title: String::new(), width: 1, shows };
    let ds = demo();
    let statement = |of| TileShows::Statement(Statement { tracker: upkeep(), run: None, lines: vec![line("x", of)] });
    let mut refused = |board: Dashboard| {
        let faults = wish(&mut team, 3, DashboardWish::Keep(Box::new(board))).unwrap_err();
        faults.0.iter().map(|fault| format!("{}: {}", fault.pointer, fault.message)).collect::<Vec<_>>().join("\n")
    };
    let with = |tiles: Vec<Tile>| Dashboard { tiles, ..board.clone() };
    let said = [
        refused(Dashboard { name: " ".into(), columns: 4, ..board.clone() }),
        refused(with(vec![tile(1, statement(LineOf::Share { part: 0, whole: 0 }))])),
        refused(with(vec![tile(1, TileShows::Text { text: "x".repeat(5_000) })])),
        refused(with(vec![tile(1, TileShows::Text { text: String::new() }), tile(1, TileShows::Text { text: String::new() })])),
        refused(with(vec![tile(1, TileShows::View(Box::new(TileView { most: 0, ..list(&ds) })))])),
        refused(with((0..41).map(|key| tile(key, TileShows::Text { text: String::new() })).collect())),
        refused(Dashboard { owner: person(4), ..board.clone() }),
        refused(Dashboard { open: DashboardOpen::Groups([westerfall_core::id::GroupId::new(77).unwrap()].into()), ..board.clone() }),
    ];
    insta::assert_snapshot!("dashboard_faults", said.join("\n"));
}
