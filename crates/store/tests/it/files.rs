//! Files by their number: put, read, dropped; in a folder as in a bucket.

use westerfall_store::Files;

#[tokio::test]
async fn a_file_is_read_as_it_was_put_until_it_is_dropped() {
    let folder = std::env::temp_dir().join(format!("westerfall-store-{}", std::process::id()));
    let files = Files::in_folder(&folder).unwrap();
    let bytes: Vec<u8> = (0..=255).cycle().take(100_000).collect();
    files.put("abc123", bytes.clone()).await.unwrap();
    assert_eq!(files.get("abc123").await.unwrap(), Some(bytes));
    assert_eq!(files.get("abc124").await.unwrap(), None);
    files.put("abc123", b"other".to_vec()).await.unwrap();
    assert_eq!(files.get("abc123").await.unwrap().as_deref(), Some(&b"other"[..]));
    files.drop("abc123").await.unwrap();
    assert_eq!(files.get("abc123").await.unwrap(), None);
    // What is gone can be dropped again: nobody is told off for tidying twice.
    assert!(files.drop("abc123").await.is_ok());
    std::fs::remove_dir_all(folder).unwrap();
}

#[tokio::test]
async fn no_name_leads_out_of_the_folder() {
    let folder = std::env::temp_dir().join(format!("westerfall-store-out-{}", std::process::id()));
    let files = Files::in_folder(&folder).unwrap();
    let _ = files.put("../../escaped", b"x".to_vec()).await;
    let outside = folder.parent().and_then(std::path::Path::parent).unwrap().join("escaped");
    assert!(!outside.exists());
    std::fs::remove_dir_all(folder).unwrap();
}

#[test]
fn a_place_that_is_neither_folder_nor_bucket_is_refused_with_a_reason() {
    for place in ["s3://", "s3:///folder"] {
        assert!(Files::at(place).err().is_some_and(|error| error.to_string().contains("s3://bucket")), "{place}");
    }
}
