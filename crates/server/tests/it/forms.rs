//! Forms, as strangers reach them.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::json;

#[tokio::test(flavor = "multi_thread")]
async fn a_strangers_answer_is_a_record_marked_with_its_form() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let (_, form) = stranger.get(FORM).await;
    assert_eq!(form["title"], "Report a path fault");
    assert!(form["questions"].as_array().unwrap().iter().all(|q| q["answer"]["type"] != "person"));
    let (status, body) = stranger.answer(good_answers("Gate will not open"), &[(PICTURES, "gate.png", &picture())], None).await;
    assert_eq!((status, body["confirmation"].as_str().unwrap().is_empty()), (StatusCode::OK, false), "{body}");
    let newest = nadia
        .query(FAULT_TABLE, json!({ "fields": shown(&[40, TITLE, SECTION, PICTURES, 44]), "sorts": [{ "field": 40, "descending": true }] }))
        .await
        .1;
    let row = &newest["rows"][0];
    assert_eq!(row["form"], 120);
    let texts: Vec<&str> = [0, 1, 2, 4].iter().map(|n| row["cells"][*n]["text"].as_str().unwrap()).collect();
    let year = jiff::Timestamp::now().to_zoned(jiff::tz::TimeZone::UTC).year();
    assert_eq!(texts, [&*format!("FR-{year}-0061"), "Gate will not open", "Esker Ridge to Hob Gate", "Tamsin Oake"]);
    assert_eq!(row["cells"][3]["value"]["files"][0]["media"], "image/jpeg");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_question_offers_names_and_nothing_of_the_table_leaks() {
    let world = World::new().await;
    let stranger = world.stranger();
    let (_, names) = stranger.get(&format!("{FORM}/questions/{SECTION}/names?search=hob")).await;
    assert!(names.as_array().is_some_and(|n| !n.is_empty() && n.iter().all(|n| n.as_object().unwrap().len() == 2)), "{names}");
    for field in [43, 44, STATUS, 9_999] {
        let (status, _) = stranger.get(&format!("{FORM}/questions/{field}/names")).await;
        assert_eq!(status, StatusCode::NOT_FOUND);
    }
    for path in ["/api/trackers", "/api/trackers/1", "/api/trackers/1/tables/2/names", "/api/post-room"] {
        assert_eq!(stranger.get(path).await.0, StatusCode::UNAUTHORIZED);
    }
    assert_eq!(stranger.get("/api/public/forms/guess").await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn one_bad_answer_keeps_nothing_file_included() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let kept = || walk(&std::env::temp_dir().join(format!("westerfall-tests-{}", std::process::id())));
    let mut bad = good_answers("Half right");
    bad["52"] = json!({ "text": "no address" });
    bad.as_object_mut().unwrap().remove("42");
    // Other tests keep files of their own meanwhile, so this one is known by its size.
    let odd = {
        let mut bytes = b"%PDF-1.4\n".to_vec();
        bytes.resize(123_457, b' ');
        bytes
    };
    let (status, body) = stranger.answer(bad, &[(PICTURES, "odd.pdf", &odd)], None).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let mut places: Vec<&str> = body["faults"].as_array().unwrap().iter().map(|f| f["pointer"].as_str().unwrap()).collect();
    places.sort_unstable();
    assert_eq!(places, ["/answers/42", "/answers/52"]);
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS);
    assert!(!kept().contains(&123_457), "the file of a refused answer was kept");
    assert_eq!(stranger.answer(good_answers("Right"), &[(PICTURES, "odd.pdf", &odd)], None).await.0, StatusCode::OK);
    assert!(kept().contains(&123_457));
}

/// The sizes of all files in a folder.
fn walk(folder: &std::path::Path) -> Vec<u64> {
    let entries = std::fs::read_dir(folder).into_iter().flatten().flatten();
    entries.flat_map(|e| if e.path().is_dir() { walk(&e.path()) } else { vec![e.metadata().map_or(0, |m| m.len())] }).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn files_are_known_by_their_content() {
    let world = World::new().await;
    let stranger = world.stranger();
    let refused = async |name: &str, bytes: &[u8]| stranger.answer(good_answers("File"), &[(PICTURES, name, bytes)], None).await;
    let (status, body) = refused("picture.jpg", b"<script>alert(1)</script>").await;
    assert_eq!(status, StatusCode::UNSUPPORTED_MEDIA_TYPE);
    assert_eq!(body["faults"][0]["pointer"], format!("/answers/{PICTURES}"));
    assert_eq!(body["detail"], "“picture.jpg” can’t be taken. Send a picture (JPEG, PNG, WebP or GIF) or a PDF.");
    let mut large = b"%PDF-".to_vec();
    large.resize(13 * 1024 * 1024, 0);
    assert_eq!(refused("large.pdf", &large).await.0, StatusCode::PAYLOAD_TOO_LARGE);
    let mut cut = picture();
    cut.truncate(60);
    assert_eq!(refused("cut.png", &cut).await.0, StatusCode::UNSUPPORTED_MEDIA_TYPE);
    let mut huge = b"%PDF-".to_vec();
    huge.resize(50 * 1024 * 1024, 0);
    assert_eq!(refused("huge.pdf", &huge).await.0, StatusCode::PAYLOAD_TOO_LARGE);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_form_sent_twice_is_one_record_and_a_closed_one_takes_none() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let key = Some("an opened form");
    let (one, two) = tokio::join!(stranger.answer(good_answers("Twice"), &[], key), stranger.answer(good_answers("Twice"), &[], key));
    assert_eq!((one.0, two.0), (StatusCode::OK, StatusCode::OK));
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS + 1);
    let (_, design) = nadia.get("/api/trackers/1/forms/120").await;
    let mut form = design["form"].clone();
    form["open"] = json!(false);
    assert_eq!(nadia.put("/api/trackers/1/forms/120", form).await.0, StatusCode::OK);
    let (status, body) = stranger.answer(good_answers("Late"), &[], None).await;
    assert_eq!((status, body["detail"].as_str().unwrap()), (StatusCode::GONE, "We take no reports at the moment. Please call the office."));
    assert_eq!(stranger.get(FORM).await.1["questions"], json!([]));
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS + 1);
}
