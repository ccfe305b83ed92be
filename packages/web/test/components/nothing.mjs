/** Style sheets and pictures are nothing to a test of what a page says and does. */
export default '';
