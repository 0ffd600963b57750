/** What a drive that delivers sectors says of them. */
export const controller = {
  checkIsRight: 'the drive says that its check is right',
  checkIsRightDeleted: 'the drive says that its check is right, with a deleted-data mark',
  checkIsWrong: 'the drive says that its check is wrong',
  noData: 'the drive found its ID and no data',
};
